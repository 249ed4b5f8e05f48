"use client";
import Link from "next/link";
import type { ReactNode } from "react";
import { documentPage } from "@/core/documents";
import type { CloseBoard } from "@/server/closing";
import type { Call } from "@/server/documents";
import type { Today, TodayRow } from "@/server/ledger";
import { Bars } from "@/ui/charts/Bars";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDay, shownSentence } from "@/ui/writing";

export function TodayDesk({
  desk,
  board,
  companies,
  calls,
}: {
  desk: Today;
  board: CloseBoard | null;
  companies: number;
  calls: Call[];
}) {
  const work = useWork();
  if (companies === 0)
    return (
      <Empty title="No company yet">
        {work.may("setup.organisation") ? (
          <Link className="link" href="/setup/companies">
            Set up the first company
          </Link>
        ) : (
          "An administrator sets companies up."
        )}
      </Empty>
    );
  const open = board?.checks.filter((c) => c.state !== "holds") ?? [];
  return (
    <div className="grid min-h-0 flex-1 grid-cols-2 grid-rows-2 gap-2.5 overflow-hidden">
      <Section
        title="Waiting"
        note={
          desk.forMe.length > 0
            ? `${desk.forMe.length} for your approval`
            : "others' drafts and previews"
        }
      >
        {desk.forMe.length > 0 && (
          <div className="bg-yellow-2">
            <Rows rows={desk.forMe} />
          </div>
        )}
        {calls.map((c, i) => (
          <p key={i} className="border-b border-line-2 px-3 py-1.5">
            <Link className="link font-semibold" href={work.link(c.page, { company: c.company })}>
              {c.title}
            </Link>{" "}
            <span className="text-ink-2">
              {c.by}, {shownDay(c.at.slice(0, 10))}:
            </span>{" "}
            {c.text}
          </p>
        ))}
        {desk.waiting.length + desk.forMe.length + calls.length === 0 ? (
          <p className="p-4 text-ink-2">Nothing waits.</p>
        ) : (
          <Rows rows={desk.waiting} />
        )}
      </Section>
      <Section
        title={board ? `Close of ${board.periodName}` : "Close"}
        note={board ? `${work.company?.name}, ${board.book}` : ""}
        link={
          board && work.may("read.close") ? (
            <Link className="link" href={work.link("/close", { period: board.period })}>
              Close board
            </Link>
          ) : null
        }
      >
        {!board ? (
          <p className="p-4 text-ink-2">Every period that was opened is closed.</p>
        ) : open.length === 0 ? (
          <p className="p-4 text-ink-2">Every check passed. The period can be closed.</p>
        ) : (
          <ul>
            {open.map((c) => (
              <li key={c.code} className="flex items-start gap-3 border-b border-line-2 px-3 py-2">
                <span className="w-34 shrink-0">
                  <Status of={c.state} />
                </span>
                <span className="min-w-0 flex-1">
                  <b className="font-semibold">{c.name}</b>
                  <span className="block text-ink-2">{shownSentence(c.finding)}</span>
                </span>
                {c.door && (
                  <Link className="link shrink-0" href={c.door}>
                    Open
                  </Link>
                )}
              </li>
            ))}
          </ul>
        )}
      </Section>
      <Section
        title="My drafts"
        note={desk.mine.length > 0 ? `${desk.mine.length}` : ""}
        link={
          work.may("prepare.ledger") ? (
            <Link className="link" href={work.link("/ledger/journals/new")}>
              New journal
            </Link>
          ) : null
        }
      >
        {desk.mine.length === 0 ? (
          <p className="p-4 text-ink-2">You have no drafts.</p>
        ) : (
          <Rows rows={desk.mine} />
        )}
      </Section>
      <Section
        title="Posted last"
        note={work.company?.name ?? ""}
        link={
          work.may("read.ledger") ? (
            <Link className="link" href={work.link("/ledger/journals")}>
              Journals
            </Link>
          ) : null
        }
      >
        {desk.days.length > 1 && (
          <div className="flex h-20 border-b border-line-2 px-2 pt-1">
            <Bars
              label={`Journals posted a day, ${shownDay(desk.days[0]!.day)} to ${shownDay(desk.days.at(-1)!.day)}`}
              head="Day"
              bars={desk.days.map((d) => ({
                name: shownDay(d.day),
                value: d.journals,
                text: `${d.journals} ${d.journals === 1 ? "journal" : "journals"}`,
              }))}
            />
          </div>
        )}
        {desk.latest.length === 0 ? (
          <p className="p-4 text-ink-2">Nothing has been posted yet.</p>
        ) : (
          <Rows rows={desk.latest} />
        )}
      </Section>
    </div>
  );
}

function Section({
  title,
  note,
  link,
  children,
}: {
  title: string;
  note?: string;
  link?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section className="panel flex min-h-0 flex-col overflow-hidden" aria-label={title}>
      <div className="flex items-baseline gap-2 border-b border-line px-3 py-2">
        <h2>{title}</h2>
        {note && <span className="text-xs text-ink-3">{note}</span>}
        <span className="ml-auto">{link}</span>
      </div>
      <div
        className="min-h-0 flex-1 overflow-y-auto"
        tabIndex={0}
        role="region"
        aria-label={`${title}: list`}
      >
        {children}
      </div>
    </section>
  );
}

function Rows({ rows }: { rows: TodayRow[] }) {
  const work = useWork();
  return (
    <table className="sheet" style={{ tableLayout: "fixed" }}>
      <colgroup>
        <col style={{ width: 108 }} />
        <col />
        <col style={{ width: 64 }} />
        <col style={{ width: 122 }} />
      </colgroup>
      <tbody>
        {rows.map((r) => (
          <tr key={r.id}>
            <td>
              <Link
                className="link font-semibold"
                aria-label={`${r.number ?? `${r.company} draft`}, ${r.title}`}
                href={work.link(documentPage(r.kind, r.id), { company: r.company })}
              >
                {r.number ?? `${r.company} draft`}
              </Link>
            </td>
            <td title={`${r.title} · ${r.by}`}>{r.title}</td>
            <td className="text-ink-2">{r.date ? shownDay(r.date) : ""}</td>
            <td className="num">
              {shownAmount(r.amount, r.currency)}{" "}
              <span className="text-xs text-ink-3">{r.currency}</span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
