"use client";
import Link from "next/link";
import { chainColumns, documentPage, type ChainDocument, type ChainLink } from "@/core/documents";
import { minor } from "@/core/shared";
import { useBelongsTo } from "@/ui/frame/belongs";
import { useWork } from "@/ui/frame/work";
import { Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";

const NAMES = {
  request: "Request",
  order: "Order",
  "goods-receipt": "Goods receipts",
  invoice: "Invoices",
  payment: "Payments",
  bank: "Bank lines",
} as const;
const [WIDTH, HEIGHT, GAP, DOWN, TOP] = [196, 92, 44, 14, 34];

/**
 * A purchase as one picture: its documents by stage, what follows from what, and what is
 * outstanding. Each can be entered.
 */
export function ChainPicture({
  documents,
  links,
  truncated,
  id,
}: {
  documents: ChainDocument[];
  links: ChainLink[];
  truncated: boolean;
  id: number;
}) {
  const work = useWork();
  const columns = chainColumns(documents);
  const at = new Map<number, { x: number; y: number }>();
  columns.forEach((c, column) =>
    c.documents.forEach((d, row) =>
      at.set(d.id, { x: column * (WIDTH + GAP), y: TOP + row * (HEIGHT + DOWN) }),
    ),
  );
  const height = TOP + Math.max(1, ...columns.map((c) => c.documents.length)) * (HEIGHT + DOWN);
  const here = documents.find((d) => d.id === id);
  useBelongsTo(here ? documentPage(here.kind, here.id) : "/documents");
  return (
    <Page title="Chain" note={here ? `of ${here.number}, ${here.title}` : ""}>
      <div className="panel min-h-0 flex-1 overflow-auto p-4">
        {truncated && (
          <p className="pb-2 text-ink-2">
            More hangs together than one picture can hold; the nearest are shown.
          </p>
        )}
        <div className="relative" style={{ width: columns.length * (WIDTH + GAP), height }}>
          <svg
            className="absolute inset-0"
            width="100%"
            height="100%"
            aria-hidden
            fill="none"
            stroke="var(--color-ink-3)"
            strokeWidth="1.4"
          >
            {links.map((l) => {
              const [from, to] = [at.get(l.from), at.get(l.to)];
              if (!from || !to) return null;
              const [x1, y1, x2, y2] = [
                from.x + WIDTH,
                from.y + HEIGHT / 2,
                to.x,
                to.y + HEIGHT / 2,
              ];
              const bend = Math.max(18, (x2 - x1) / 2);
              return (
                <path
                  key={`${l.from} ${l.to}`}
                  d={`M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`}
                />
              );
            })}
          </svg>
          {columns.map((c, column) => (
            <section key={c.stage} aria-label={NAMES[c.stage]}>
              <h2
                className="absolute text-xs font-semibold text-ink-2"
                style={{ left: column * (WIDTH + GAP), top: 4 }}
              >
                {NAMES[c.stage]}
              </h2>
              {c.documents.length === 0 && (
                <p
                  className="absolute rounded-lg border border-dashed border-line px-3 py-2 text-xs text-ink-3"
                  style={{ left: column * (WIDTH + GAP), top: TOP, width: WIDTH }}
                >
                  none yet
                </p>
              )}
              {c.documents.map((d) => (
                <Link
                  key={d.id}
                  href={work.link(documentPage(d.kind, d.id))}
                  aria-current={d.id === id ? "true" : undefined}
                  className={`absolute flex flex-col rounded-lg border bg-panel px-3 py-1.5 hover:bg-shade ${d.id === id ? "border-yellow-edge shadow-[inset_0_-3px_var(--color-yellow)]" : "border-line"}`}
                  style={{
                    left: at.get(d.id)!.x,
                    top: at.get(d.id)!.y,
                    width: WIDTH,
                    height: HEIGHT,
                  }}
                >
                  <span className="flex items-center justify-between gap-2">
                    <b className="font-semibold text-sea">{d.number}</b>
                    <Status
                      of={
                        d.kind === "order" && d.status === "open"
                          ? "in-force"
                          : d.kind === "request" && d.status === "posted"
                            ? "approved"
                            : d.status
                      }
                      quiet
                    />
                  </span>
                  <span className="truncate text-xs text-ink-2">{d.title}</span>
                  <span className="flex justify-between gap-2">
                    <span className="text-xs text-ink-2">{d.date ? shownDate(d.date) : ""}</span>
                    <span className="font-semibold">
                      {d.amount === null
                        ? ""
                        : `${shownAmount(minor(d.amount), d.currency)} ${d.currency}`}
                    </span>
                  </span>
                  {d.outstanding && (
                    <span className="truncate text-xs text-coral">{d.outstanding}</span>
                  )}
                  {d.note && <span className="truncate text-xs text-ink-2">{d.note}</span>}
                </Link>
              ))}
            </section>
          ))}
        </div>
      </div>
    </Page>
  );
}
