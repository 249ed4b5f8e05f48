"use client";
import { useMemo, useState } from "react";
import type { BankCodings, LineTotal, StatementLineRow, StatementLineView } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { useAct } from "@/app/lib/useAct";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { keepPreference } from "@/app/lib/preferences";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount, shownDate, shownDay } from "@/ui/writing";
import { StatementButton, StatementDrop, useStatementFiles } from "../StatementDrop";
import { matchAnewAction, undoLinesAction } from "./actions";
import { LineFilters } from "./LineFilters";
import { LinePanel } from "./LinePanel";
import type { KindChoice } from "./RestChoice";

interface Props {
  list: StartOfList<StatementLineRow>;
  totals: readonly LineTotal[];
  line: StatementLineView | null;
  status: string;
  bank: string;
  text: string;
  today: string;
  banks: { code: string; name: string }[];
  kinds: KindChoice[];
  codings: BankCodings | null;
}

/** Lines of bank statements at the left, what the one in hand may be at the right. */
export function LinesDesk(props: Props) {
  const { list, totals, line, status, bank, text, today, banks, kinds, codings } = props;
  const work = useWork();
  const { rows, pages } = useListPages("statement-lines", list);
  const files = useStatementFiles();
  const { busy, messages, act } = useAct();
  const run = useProposeRun("bank-lines");
  const [chosen, setChosen] = useState<string[]>([]);
  const mayDecide = work.may("prepare.banks");
  const preview = () => void run.propose({ bank, upTo: today });
  usePrimaryKeys(undefined, work.may("post.banks") ? preview : undefined);
  const isMixed = new Set(rows.map((r) => r.bank)).size > 1;
  const otherYear = rows.some((r) => r.booked?.slice(0, 4) !== today.slice(0, 4));
  const columns = useMemo(
    (): TableColumn<StatementLineRow>[] => [
      {
        key: "booked",
        header: "Booked",
        width: otherYear ? 96 : 80,
        value: (l) => l.booked,
        // With its year, where some are of another one.
        cell: (l) => (otherYear ? shownDate(l.booked ?? "") : shownDay(l.booked ?? "")),
      },
      ...(isMixed
        ? [{ key: "bank", header: "Account", width: 84, value: (l: StatementLineRow) => l.bank }]
        : []),
      { key: "party", header: "From or to", width: 160, value: (l) => l.party },
      { key: "text", header: "The bank’s text", value: (l) => l.text },
      {
        key: "state",
        header: "Status",
        width: 116,
        value: (l) => l.state,
        cell: (l) => <Status of={l.state} quiet />,
      },
      { key: "note", header: "Reason or journal", width: 170, value: (l) => l.note },
      {
        key: "amount",
        header: "Amount",
        width: 120,
        align: "right",
        sum: true,
        value: (l) => l.amount,
        cell: (l) => shownAmount(l.amount, l.currency ?? "EUR"),
      },
    ],
    [isMixed, otherYear],
  );
  /** The next line that nobody has decided on, behind the one in hand. */
  const next = () => {
    const at = rows.findIndex((r) => r.id === line?.id);
    const open = (r: StatementLineRow) => r.state === "to decide" || r.state === "unexplained";
    return [...rows.slice(at + 1), ...rows.slice(0, Math.max(0, at))].find(open);
  };
  return (
    <Page
      title="Statement lines"
      note={list.asked.statement ? "of one statement" : `of ${work.company?.name ?? ""}`}
      actions={
        <>
          {banks.length > 1 && (
            <select
              aria-label="Bank account"
              className="field w-auto"
              value={bank}
              onChange={(e) =>
                work.go({ bank: e.target.value || null, line: null, statement: null })
              }
            >
              <option value="">All accounts</option>
              {banks.map((b) => (
                <option key={b.code} value={b.code}>
                  {b.code} {b.name}
                </option>
              ))}
            </select>
          )}
          <SearchBox text={text} />
          <StatementButton files={files} />
          {mayDecide && chosen.length > 0 && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(
                  () => undoLinesAction(chosen.map(Number)),
                  (v) => `${v.undone} ${v.undone === 1 ? "decision" : "decisions"} taken back`,
                )
              }
            >
              Take back {chosen.length}
            </button>
          )}
          {mayDecide && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(
                  () => matchAnewAction(work.place.company),
                  (v) => `Matched again: ${v.certain} certain`,
                )
              }
            >
              Match again
            </button>
          )}
          {work.may("post.banks") && (
            <button
              type="button"
              className="button button-main"
              disabled={run.busy}
              onClick={preview}
            >
              Preview posting <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          )}
        </>
      }
      panel={
        line && (
          <LinePanel
            key={`${line.id}.${line.version}`}
            line={line}
            kinds={kinds}
            codings={codings}
            mayDecide={mayDecide && line.state !== "posted"}
            onClose={() => work.go({ line: null }, { replace: true })}
            onDecided={() => {
              const after = next();
              if (after) work.go({ line: String(after.id) }, { replace: true });
            }}
          />
        )
      }
    >
      <Problems messages={[...messages, ...run.messages]} />
      {!list.asked.statement && (
        <LineFilters
          totals={totals}
          status={status}
          choose={(value) => work.go({ status: value === "open" ? null : value, line: null })}
        />
      )}
      <StatementDrop files={files}>
        <DataTable
          name="statement-lines"
          rows={rows}
          columns={columns}
          rowKey={(l) => String(l.id)}
          currency={work.company?.currency ?? "EUR"}
          currencyOf={(l) => l.currency ?? "EUR"}
          pages={pages}
          kept={list.kept.columns}
          keep={(v) => void keepPreference("table.statement-lines", v)}
          current={line ? String(line.id) : undefined}
          selectable={mayDecide}
          onSelect={setChosen}
          onOpen={(l) => work.go({ line: String(l.id) }, { replace: true })}
          empty={
            <Empty title={status === "open" ? "Every line is posted" : "No line here"}>
              {status === "open"
                ? "What the bank sends next appears here: load its files, or drop them on this page."
                : "No line of a statement has this status."}
            </Empty>
          }
        />
      </StatementDrop>
    </Page>
  );
}

function SearchBox({ text }: { text: string }) {
  const work = useWork();
  const [wanted, setWanted] = useState(text);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        work.go({ text: wanted || null, line: null });
      }}
    >
      <input
        className="field w-36"
        aria-label="Search in lines"
        placeholder="Name or text"
        value={wanted}
        onChange={(e) => setWanted(e.target.value)}
      />
    </form>
  );
}
