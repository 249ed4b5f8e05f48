"use client";
import { useEffect, useState } from "react";
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import {
  FIELD_WORDS,
  readingFaults,
  rowsOfTable,
  TABLE_FIELDS,
  type TableField,
  type TableReading,
} from "@/core/banks/statements/table";
import { isAtBank } from "@/core/banks";
import type { BankAccount, LookedAt } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Field } from "@/ui/Field";
import { FigureField } from "@/ui/FigureField";
import { Problems } from "@/ui/Page";
import { shownAmount, shownDate } from "@/ui/writing";
import { bankAccountsAction } from "./actions";
import { lookAtTable, sendStatements } from "./sendStatements";

type Account = Pick<BankAccount, "code" | "name" | "currency" | "company" | "kind">;
interface Looked {
  table: LookedAt;
  accounts: Account[];
}

/**
 * Says once how a bank's table is read: of which account it is, what its columns mean, how figures
 * and days are written; with what comes of it beside it. It is kept for tables of the same headings.
 */
export function TableReadingDialog({
  file,
  onTaken,
  onLeft,
}: {
  file: File;
  onTaken: (says: string) => void;
  onLeft: () => void;
}) {
  const [looked, setLooked] = useState<Looked | null>(null);
  const [fault, setFault] = useState("");
  useEffect(() => {
    void Promise.all([lookAtTable(file), bankAccountsAction()]).then(([table, accounts]) => {
      if (!table?.ok) setFault(table?.message ?? "The server did not answer. Try again.");
      else if (!accounts.ok) setFault(accounts.message);
      else setLooked({ table: table.value, accounts: accounts.value });
    });
  }, [file]);
  return (
    <Dialog open onClose={onLeft} className="relative z-50">
      <div className="fixed inset-0 bg-petrol/30" aria-hidden />
      <div className="fixed inset-0 flex justify-center px-6 pt-[6vh]">
        <DialogPanel className="flex h-fit max-h-[88vh] w-[980px] max-w-full flex-col gap-3 overflow-auto rounded-xl border border-line bg-panel p-5 shadow-2xl">
          <DialogTitle as="h2">How {file.name} is read</DialogTitle>
          <Problems messages={fault === "" ? [] : [fault]} />
          {looked && <ReadingForm file={file} looked={looked} onTaken={onTaken} onLeft={onLeft} />}
          {!looked && (
            <button type="button" className="button w-fit" onClick={onLeft}>
              Leave it
            </button>
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const FIGURES: Readonly<Record<string, TableReading["format"]>> = {
  "1,234.50": { decimal: ".", group: "," },
  "1.234,50": { decimal: ",", group: "." },
  "1 234,50": { decimal: ",", group: " " },
  "1'234.50": { decimal: ".", group: "'" },
  "1 234.50": { decimal: ".", group: " " },
};
const figuresOf = (f: TableReading["format"]): string =>
  Object.entries(FIGURES).find(([, x]) => x.decimal === f.decimal && x.group === f.group)?.[0] ??
  (f.decimal === "," ? "1.234,50" : "1,234.50");
const DATES = {
  dmy: "day, month, year",
  mdy: "month, day, year",
  ymd: "year, month, day",
} as const;
/** Movements that are shown as they are understood. */
const SHOWN = 5;

const blank = (table: LookedAt): TableReading => {
  const widest = table.cells.reduce((a, b) => (b.length > a.length ? b : a), [] as string[]);
  return {
    headings: widest.map((h) => h.trim()),
    columns: widest.map(() => null),
    format: { decimal: ".", group: "," },
    order: "dmy",
    turned: false,
  };
};

function ReadingForm({
  file,
  looked: { table, accounts },
  onTaken,
  onLeft,
}: {
  file: File;
  looked: Looked;
  onTaken: (says: string) => void;
  onLeft: () => void;
}) {
  const work = useWork();
  const own = accounts.filter((a) => a.company === work.place.company && isAtBank(a));
  const [bank, setBank] = useState(table.bank || (own.length === 1 ? own[0]!.code : ""));
  const [reading, setReading] = useState<TableReading>(table.proposed?.reading ?? blank(table));
  const [opening, setOpening] = useState("");
  const [messages, setMessages] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  const change = (more: Partial<TableReading>) => setReading((r) => ({ ...r, ...more }));
  const means = (column: number, field: TableField | null) =>
    change({ columns: reading.columns.map((c, i) => (i === column ? field : c)) });
  const take = async () => {
    setBusy(true);
    const sent = await sendStatements(file, { bank, reading, opening });
    setBusy(false);
    if (sent.ok) onTaken(sent.says);
    else setMessages([sent.says]);
  };
  const account = accounts.find((a) => a.code === bank);
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!busy) void take();
      }}
    >
      <p className="text-ink-2">
        {table.rows} rows. What you say here is kept with the account, for tables with these
        headings.
      </p>
      <Problems messages={messages} />
      <div className="flex flex-wrap items-end gap-3">
        <Field id="reading-bank" label="Bank account" required width="w-64">
          {(f) => (
            <select
              {...f}
              autoFocus
              className="field"
              value={bank}
              onChange={(e) => setBank(e.target.value)}
            >
              <option value="">Choose one</option>
              {(own.length > 0 ? own : accounts).map((a) => (
                <option key={a.code} value={a.code}>
                  {a.code} {a.name}, {a.currency}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field id="reading-figures" label="Figures are written" width="w-32">
          {(f) => (
            <select
              {...f}
              className="field tabular-nums"
              value={figuresOf(reading.format)}
              onChange={(e) => change({ format: FIGURES[e.target.value]! })}
            >
              {Object.keys(FIGURES).map((text) => (
                <option key={text}>{text}</option>
              ))}
            </select>
          )}
        </Field>
        <Field id="reading-dates" label="Dates are written" width="w-44">
          {(f) => (
            <select
              {...f}
              className="field"
              value={reading.order}
              onChange={(e) => change({ order: e.target.value as TableReading["order"] })}
            >
              {Object.entries(DATES).map(([order, text]) => (
                <option key={order} value={order}>
                  {text}
                </option>
              ))}
            </select>
          )}
        </Field>
        {!reading.columns.includes("balance") && (
          <Field
            id="reading-opening"
            label="Opening balance"
            width="w-40"
            hint="Only without a statement before"
          >
            {(f) => <FigureField {...f} value={opening} onChange={setOpening} />}
          </Field>
        )}
        <label className="flex items-center gap-2 pb-1.5">
          <input
            type="checkbox"
            checked={reading.turned}
            onChange={(e) => change({ turned: e.target.checked })}
          />
          Money out is positive, money in negative
        </label>
      </div>
      {table.proposed?.doubts.map((d) => (
        <p key={d} className="text-ink-2">
          {d}: look at what is understood.
        </p>
      ))}
      <Columns table={table} reading={reading} onMeans={means} />
      <Understood table={table} reading={reading} currency={account?.currency ?? "EUR"} />
      <div className="flex gap-2">
        <button type="submit" className="button button-main" disabled={busy}>
          {busy ? "Reading …" : "Take in and keep the reading"}
        </button>
        <button type="button" className="button" onClick={onLeft}>
          Leave it
        </button>
      </div>
    </form>
  );
}

/** The first rows as they stand, with what each column means above them. */
function Columns({
  table,
  reading,
  onMeans,
}: {
  table: LookedAt;
  reading: TableReading;
  onMeans: (column: number, field: TableField | null) => void;
}) {
  const from = (table.proposed?.at ?? -1) + 1;
  return (
    <div
      className="overflow-x-auto rounded-lg border border-line"
      tabIndex={0}
      role="region"
      aria-label="Columns of the table"
    >
      <table className="text-left">
        <thead>
          <tr>
            {reading.headings.map((heading, i) => (
              <th key={i} scope="col" className="border-b border-line px-2 py-1.5 font-semibold">
                <span className="block max-w-44 truncate" title={heading}>
                  {heading || `Column ${i + 1}`}
                </span>
                <select
                  aria-label={`What ${heading || `column ${i + 1}`} means`}
                  className="field mt-1 w-44 font-normal"
                  value={reading.columns[i] ?? ""}
                  onChange={(e) => onMeans(i, (e.target.value || null) as TableField | null)}
                >
                  <option value="">not read</option>
                  {TABLE_FIELDS.map((f) => (
                    <option key={f} value={f}>
                      {FIELD_WORDS[f]}
                    </option>
                  ))}
                </select>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.cells.slice(from, from + 3).map((row, i) => (
            <tr key={i}>
              {reading.headings.map((_, c) => (
                <td key={c} className="max-w-44 truncate px-2 py-1 text-ink-2">
                  {row[c]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What comes of the first rows: days, amounts with their sign, who and what. */
function Understood({
  table,
  reading,
  currency,
}: {
  table: LookedAt;
  reading: TableReading;
  currency: string;
}) {
  const [unclear] = readingFaults(reading);
  const read = unclear ? null : rowsOfTable(table.cells, reading, currency);
  const fault = unclear ?? (read && "faults" in read ? faultText(read.faults[0]!) : null);
  return (
    <section aria-label="As it is understood" aria-live="polite">
      <h3 className="label">As it is understood</h3>
      {fault && <p className="text-coral">{fault}.</p>}
      {read && "rows" in read && (
        <table className="w-full text-left">
          <tbody>
            {read.rows.slice(0, SHOWN).map((r) => (
              <tr key={r.from} className="border-b border-line last:border-0">
                <td className="w-28 py-1">{shownDate(r.booked)}</td>
                <td className="w-36 py-1 pr-4 text-right tabular-nums">
                  {shownAmount(r.amount, currency)} {currency}
                </td>
                <td className="w-24 py-1 text-ink-2">{r.amount < 0n ? "out" : "in"}</td>
                <td className="py-1">{[r.party.name, r.text].filter(Boolean).join(", ")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

const faultText = (f: { line: number; what: string }): string => `Row ${f.line}: ${f.what}`;
