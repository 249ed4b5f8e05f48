import { array, boolean, object, string } from "yup";
import { mandateSchema } from "@/core/receivables";
import {
  atCell,
  atRow,
  cellAt,
  dateText,
  fail,
  ok,
  parse,
  readDate,
  tableRow,
} from "@/core/shared";
import type { CalendarDate, Found, Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { listMandates, type MandateRow } from "./mandates";
import { checkMandate, saveMandate } from "./saveMandate";

/** Columns of mandates as a table, in and out. */
export const MANDATE_COLUMNS = [
  "customer",
  "reference",
  "signed",
  "scheme",
  "kind",
  "iban",
  "bic",
  "holder",
  "notice",
] as const;

/** A mandate in those columns. */
export const mandateCells = (m: MandateRow): string[] => [
  m.partner,
  m.reference,
  dateText(m.signed),
  m.scheme,
  m.kind,
  m.iban,
  m.bic,
  m.holder,
  String(m.notice),
];

type Row = Readonly<Record<string, string>>;

/** What a row says; what it leaves empty is as usual, and what the table has no column for as before. */
function mandateOfRow(
  row: Row,
  before: MandateRow | undefined,
  { company, today }: { company: string; today: CalendarDate },
) {
  const kept = before ? mandateCells(before) : [];
  const said = MANDATE_COLUMNS.map((c, i) => [c, cellAt(row, c)?.trim() ?? kept[i] ?? ""] as const);
  const { customer, signed, scheme, kind, ...rest } = Object.fromEntries(
    said.filter(([, text]) => text !== ""),
  ) as Partial<Record<(typeof MANDATE_COLUMNS)[number], string>>;
  return {
    company,
    partner: customer ?? "",
    signed: signed && (readDate(signed, today) ?? signed),
    scheme: scheme?.toLowerCase() ?? "core",
    kind: kind?.toLowerCase() ?? "recurrent",
    ...rest,
  };
}

/**
 * Mandates of a company from a table, known by their references. All are taken in or none; without
 * `take` it only says what would happen. Those that are not named stay.
 */
export const loadMandates = defineUseCase({
  name: "loadMandates",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "load mandates",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    rows: array(tableRow()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    { company, rows: table, take },
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    if (table.length === 0) return fail({ code: "INVALID", what: "The table has no rows" });
    const listed = await listMandates.definition.run(context, { company, partner: "" });
    if (!listed.ok) return listed;
    const known = new Map(listed.value.map((m) => [m.reference, m]));
    const problems: Found[] = [];
    const counts = { added: 0, changed: 0, same: 0 };
    const wanted: Parameters<typeof saveMandate.definition.run>[1][] = [];
    const seen = new Set<string>();
    for (const [i, row] of table.entries()) {
      const no = i + 2;
      const before = known.get(cellAt(row, "reference")?.trim() ?? "");
      if (before && isSame(row, before)) {
        counts.same++;
        continue;
      }
      const written = parse(
        mandateSchema,
        mandateOfRow(row, before, { company, today: context.today }),
      );
      if (!written.ok) {
        problems.push(...written.problems.map((p) => atCell(no, p)));
        continue;
      }
      const mandate = written.value;
      for (const [name, field] of [
        [`Reference ${mandate.reference}`, "reference"],
        [`Customer ${mandate.partner}`, "customer"],
      ] as const) {
        if (seen.has(name))
          problems.push(atRow(no, { code: "INVALID", what: `${name} stands there twice`, field }));
        seen.add(name);
      }
      const input = before ? { ...mandate, id: before.id } : mandate;
      const checked = await checkMandate(context, input);
      if (!checked.ok) problems.push(...checked.problems.map((p) => atRow(no, p)));
      counts[before ? "changed" : "added"]++;
      wanted.push(input);
    }
    const [against, ...others] = problems;
    if (against) return fail(against, ...others);
    if (!take) return ok(counts);
    for (const input of wanted) {
      const saved = await saveMandate.definition.run(context, input);
      if (!saved.ok) return saved;
    }
    return ok(counts);
  },
});

/** Whether a row says of a mandate what is known of it, in the columns that the table has. */
function isSame(row: Row, before: MandateRow): boolean {
  const kept = mandateCells(before);
  return MANDATE_COLUMNS.every((c, i) => {
    const said = cellAt(row, c)?.trim();
    if (said === undefined || said === kept[i]) return true;
    if (c === "signed") return readDate(said, before.signed) === before.signed;
    return c === "iban" && said.replace(/\s/g, "").toUpperCase() === before.iban;
  });
}
