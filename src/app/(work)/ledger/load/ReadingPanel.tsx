"use client";
import { LOAD_FIELDS, type LoadField, type Understanding } from "@/core/ledger";

const NAMES: Record<(typeof LOAD_FIELDS)[number], string> = {
  journal: "Journal",
  date: "Date",
  type: "Type",
  book: "Book",
  reference: "Reference",
  company: "Company",
  account: "Account",
  description: "Description",
  debit: "Debit",
  credit: "Credit",
  amount: "Signed amount",
  currency: "Currency",
  quantity: "Quantity",
  partner: "Partner",
  dueDate: "Due date",
  note: "Note",
};
/** The name of a meaning; dimensions go by their own. */
export const meaningName = (
  field: LoadField,
  dimensions: readonly { code: string; name: string }[],
): string =>
  dimensions.find((d) => `d.${d.code}` === field)?.name ?? NAMES[field as keyof typeof NAMES];

/** The ways of writing figures, each by its example. */
const WAYS: Record<string, Understanding["format"]> = {
  "1,234.50": { decimal: ".", group: "," },
  "1.234,50": { decimal: ",", group: "." },
  "1 234.50": { decimal: ".", group: " " },
  "1 234,50": { decimal: ",", group: " " },
  "1’234.50": { decimal: ".", group: "'" },
  "1’234,50": { decimal: ",", group: "'" },
  "12,34,567.50": { decimal: ".", group: ",", pairs: true },
};
const wayOf = (format: Understanding["format"]): string =>
  Object.keys(WAYS).find(
    (way) =>
      WAYS[way]!.decimal === format.decimal &&
      WAYS[way]!.group === format.group &&
      Boolean(WAYS[way]!.pairs) === Boolean(format.pairs),
  ) ?? "1,234.50";

interface Props {
  headings: readonly string[];
  headed: boolean;
  /** The meanings are those of an earlier table with the same headings. */
  remembered?: boolean;
  fields: readonly (LoadField | null)[];
  /** What a column may mean here. */
  choices: readonly LoadField[];
  rows: readonly (readonly string[])[];
  read: Understanding;
  dimensions: readonly { code: string; name: string }[];
  onMean: (index: number, field: LoadField | null) => void;
  onReread: (change: Partial<Understanding>) => void;
}

/**
 * How a table from a spreadsheet is read: what each column means, and how figures and dates are
 * written.
 */
export function ReadingPanel({
  headings,
  headed,
  remembered = false,
  fields,
  choices,
  rows,
  read,
  dimensions,
  onMean,
  onReread,
}: Props) {
  return (
    <div
      className="panel max-h-64 shrink-0 overflow-auto px-3 py-2.5"
      tabIndex={0}
      role="region"
      aria-label="How it is read"
    >
      <div className="mb-2 flex flex-wrap gap-4">
        <label className="flex items-center gap-2">
          Figures
          <select
            className="field w-44"
            value={wayOf(read.format)}
            onChange={(e) => onReread({ format: WAYS[e.target.value]! })}
          >
            {Object.keys(WAYS).map((way) => (
              <option key={way}>{way}</option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          Dates
          <select
            className="field w-44"
            value={read.order}
            onChange={(e) => onReread({ order: e.target.value as "dmy" })}
          >
            <option value="dmy">day month year</option>
            <option value="mdy">month day year</option>
            <option value="ymd">year month day</option>
          </select>
        </label>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={read.withoutAccount === "left-out"}
            onChange={(e) =>
              onReread({ withoutAccount: e.target.checked ? "left-out" : "problem" })
            }
          />
          Leave out rows without an account
        </label>
        <span className="self-center text-ink-2">
          {remembered && "The columns mean what was said for the same headings before. "}
          {headed ? "The first row holds headings." : "There is no heading row."} Changing this
          reads the table anew.
        </span>
      </div>
      <table className="sheet">
        <thead>
          <tr>
            <th>Heading</th>
            <th>Field</th>
            <th>First values</th>
          </tr>
        </thead>
        <tbody>
          {headings.map((heading, i) => (
            <tr key={i}>
              <td>{heading}</td>
              <td>
                <select
                  aria-label={`Meaning of ${heading}`}
                  className="field w-48"
                  value={fields[i] ?? ""}
                  onChange={(e) => onMean(i, (e.target.value || null) as LoadField | null)}
                >
                  <option value="">nothing</option>
                  {choices.map((f) => (
                    <option key={f} value={f}>
                      {meaningName(f, dimensions)}
                    </option>
                  ))}
                </select>
              </td>
              <td className="text-ink-2">
                {rows
                  .slice(0, 3)
                  .map((r) => r[i])
                  .filter(Boolean)
                  .join(" · ")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
