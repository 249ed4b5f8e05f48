import { stateWord, type StateCode } from "@/core/documents";

/** A state as a word with a mark whose shape also tells. The same set everywhere. */
type Shape =
  /** draft or not begun */
  | "ring"
  /** waiting for somebody */
  | "half"
  /** posted or done */
  | "disc"
  /** reversed or void */
  | "barred"
  /** has problems */
  | "triangle";

const SHAPES: Record<StateCode, Shape> = {
  draft: "ring",
  waiting: "half",
  posted: "disc",
  reversed: "barred",
  computing: "half",
  preview: "half",
  posting: "half",
  running: "half",
  done: "disc",
  stopped: "barred",
  discarded: "barred",
  holds: "disc",
  fails: "triangle",
  agrees: "disc",
  differs: "triangle",
  verified: "disc",
  failed: "triangle",
  warns: "half",
  "not-yet": "ring",
  open: "ring",
  closing: "half",
  closed: "disc",
  problems: "triangle",
  sent: "half",
  cleared: "disc",
  deposited: "half",
  returned: "barred",
  certain: "ring",
  "to decide": "half",
  unexplained: "triangle",
  chosen: "ring",
  rejected: "barred",
  recalled: "barred",
  cancelled: "barred",
  printed: "disc",
  cancelling: "half",
  "in-force": "disc",
  approved: "disc",
  held: "triangle",
  active: "disc",
  inactive: "barred",
  blocked: "barred",
  confirmed: "disc",
  refused: "barred",
  hold: "triangle",
  ended: "barred",
};

export function Status({ of, quiet = false }: { of: string; quiet?: boolean }) {
  const shape: Shape = SHAPES[of as StateCode] ?? "ring";
  return (
    <span
      className={`inline-flex items-center gap-1.5 whitespace-nowrap text-[12.5px] ${shape === "triangle" ? "text-coral" : "text-ink-2"} ${quiet ? "" : "font-semibold"}`}
    >
      <svg
        viewBox="0 0 12 12"
        width="12"
        height="12"
        aria-hidden
        fill="none"
        stroke="currentColor"
        strokeWidth="1.8"
      >
        {shape === "triangle" ? (
          <path d="M6 1.5 11 10.500H1Z" fill="currentColor" />
        ) : (
          <circle cx="6" cy="6" r="4.6" fill={shape === "disc" ? "currentColor" : "none"} />
        )}
        {shape === "half" && (
          <path d="M6 1.4a4.600 4.600 0 0 0 0 9.200Z" fill="currentColor" stroke="none" />
        )}
        {shape === "barred" && <path d="M1.500 6h9" strokeWidth="2.2" />}
      </svg>
      {stateWord(of)}
    </span>
  );
}
