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

const OF: Record<string, { word: string; shape: Shape }> = {
  draft: { word: "Draft", shape: "ring" },
  waiting: { word: "Waiting", shape: "half" },
  posted: { word: "Posted", shape: "disc" },
  reversed: { word: "Reversed", shape: "barred" },
  computing: { word: "Computing", shape: "half" },
  preview: { word: "Preview", shape: "half" },
  posting: { word: "Posting", shape: "half" },
  running: { word: "Running", shape: "half" },
  done: { word: "Done", shape: "disc" },
  stopped: { word: "Stopped", shape: "barred" },
  discarded: { word: "Discarded", shape: "barred" },
  holds: { word: "Holds", shape: "disc" },
  fails: { word: "Fails", shape: "triangle" },
  verified: { word: "Verified", shape: "disc" },
  failed: { word: "Failed", shape: "triangle" },
  warns: { word: "Look", shape: "half" },
  "not-yet": { word: "Not yet", shape: "ring" },
  open: { word: "Open", shape: "ring" },
  closing: { word: "Closing", shape: "half" },
  closed: { word: "Closed", shape: "disc" },
  problems: { word: "Problems", shape: "triangle" },
  sent: { word: "Sent", shape: "half" },
  cleared: { word: "Cleared", shape: "disc" },
  rejected: { word: "Rejected", shape: "barred" },
  recalled: { word: "Recalled", shape: "barred" },
  cancelled: { word: "Cancelled", shape: "barred" },
  printed: { word: "Printed", shape: "disc" },
  cancelling: { word: "To be cancelled", shape: "half" },
  "in-force": { word: "In force", shape: "disc" },
  approved: { word: "Approved", shape: "disc" },
  held: { word: "Held", shape: "triangle" },
  active: { word: "Active", shape: "disc" },
  inactive: { word: "Inactive", shape: "barred" },
  blocked: { word: "Blocked", shape: "barred" },
  confirmed: { word: "Confirmed", shape: "disc" },
  refused: { word: "Refused", shape: "barred" },
  hold: { word: "On hold", shape: "triangle" },
  ended: { word: "Ended", shape: "barred" },
};

export function Status({ of, quiet = false }: { of: string; quiet?: boolean }) {
  const { word, shape } = OF[of] ?? { word: of, shape: "ring" as const };
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
      {word}
    </span>
  );
}
