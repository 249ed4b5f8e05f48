import { isResult } from "@/core/ledger";
import { documentPage } from "@/core/documents";
import { catchAccounts, type Outline, type OutlineLine } from "@/core/statements";
import { encodeTrace } from "@/core/trace";
import { dateText, fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { getJournal, type ReportPlace } from "../ledger";
import { readOutlines } from "../statements";
import { MOST_ROWS, stationOf, type Station } from "./station";

/**
 * A journal as the end of the way down, with its lines and what it came from; then, as the start of
 * the way up, the statement lines that it reaches.
 */
export async function journalStations(
  context: Context,
  place: ReportPlace,
  id: string,
  from: string | null,
): Promise<Result<Station[]>> {
  const view = await getJournal.definition.run(context, { key: id });
  if (!view.ok) return view;
  const journal = view.value;
  if (journal.kind === "draft") return fail({ code: "NOT_FOUND", what: `posted journal ${id}` });
  const query = `company=${journal.company}&book=${journal.book ?? place.book.code}&period=${journal.period}`;
  const reached = new Map<string, { outline: Outline; line: OutlineLine; amount: bigint }>();
  for (const outline of await readOutlines(context.tx)) {
    const { lineOf } = catchAccounts(outline, context.masters.accounts);
    for (const l of journal.lines) {
      const account = context.masters.accountByNumber.get(l.account)!;
      const code =
        lineOf.get(account.id) ??
        (outline.kind === "position" && isResult(account.type)
          ? outline.lines.find((x) => x.kind === "result")?.code
          : undefined);
      const line = outline.lines.find((x) => x.code === code);
      if (!line) continue;
      const net = l.side === "debit" ? l.amount : -l.amount;
      const row = reached.get(`${outline.code}|${line.code}`) ?? { outline, line, amount: 0n };
      row.amount += line.positive === "debit" ? net : -net;
      reached.set(`${outline.code}|${line.code}`, row);
    }
  }
  const station: Station = {
    kind: `${journal.typeName} journal`,
    title: `${journal.number} · ${journal.description}`,
    amount: null,
    more: Math.max(0, journal.lines.length - MOST_ROWS),
    facts: [
      { label: "Date", text: `${dateText(journal.date)} in ${journal.periodName}` },
      ...(journal.reference ? [{ label: "Source document", text: journal.reference }] : []),
      {
        label: "Posted by",
        text: `${journal.postedBy}, ${dateText(journal.postedAt.slice(0, 10))}`,
      },
      ...(journal.book ? [{ label: "Book", text: `${journal.book} only` }] : []),
      ...(journal.reverses
        ? [
            {
              label: "Reverses",
              text: journal.reverses.number,
              href: `/ledger/journals/${journal.reverses.id}?${query}`,
            },
          ]
        : []),
      ...(journal.reversedBy
        ? [
            {
              label: "Reversed by",
              text: journal.reversedBy.number,
              href: `/ledger/journals/${journal.reversedBy.id}?${query}`,
            },
          ]
        : []),
      ...(journal.origin
        ? [
            {
              label: "Came from",
              text: journal.origin.number,
              href: `${documentPage(journal.origin.kind, journal.origin.id)}?${query}`,
            },
          ]
        : []),
      { label: "Open", text: "the whole journal", href: `/ledger/journals/${journal.id}?${query}` },
    ],
    rows: journal.lines.slice(0, MOST_ROWS).map((l) => ({
      step: "",
      label: `${l.account} ${l.accountName}`,
      note: [...Object.values(l.dimensions), l.description].filter(Boolean).join(" · "),
      amount: l.side === "debit" ? l.amount : -l.amount,
      chosen: l.account === from,
      href: `/ledger/accounts/${l.account}?${query}`,
    })),
  };
  const reaches = stationOf(
    "Reaches, in the statements",
    [...reached.values()].map(({ outline, line, amount }) => ({
      step: "",
      label: line.label,
      note: outline.name.toLowerCase(),
      amount,
      chosen: false,
      href: `/statements/${outline.code}?${query}&trace=${encodeURIComponent(encodeTrace({ ref: { kind: "statement", code: outline.code, line: line.code, column: "this", layout: "standard" }, path: [] }))}`,
    })),
  );
  return ok([station, reaches]);
}
