import { array, boolean, object, string } from "yup";
import { partnerSchema, type PartnerInput } from "@/core/partners";
import { cellAt, fail, ok, tableRow, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { dealingWith } from "./dealing";
import { readPartners } from "./partnerRow";
import { problemsOf, savePartner } from "./savePartner";
import { WRITE } from "./rights";

/**
 * Takes partners in from a file: all of them or, with one problem anywhere, none. Without `take` it
 * only says what would happen.
 */
export const loadPartners = defineUseCase({
  name: "loadPartners",
  kind: "write",
  rights: WRITE,
  what: "load suppliers and customers",
  of: (context, input) =>
    dealingWith(context, [...new Set(input.rows.map((r) => r.code?.trim() ?? ""))]),
  schema: object({
    rows: array(tableRow()).required().max(20_000),
    role: string()
      .oneOf(["supplier", "customer"] as const)
      .default("supplier"),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const known = new Map((await readPartners(context.tx)).map((p) => [p.code, p]));
    const counts = { added: 0, changed: 0, same: 0 };
    const problems: Found[] = [];
    const seen = new Set<string>();
    const wanted: (PartnerInput & { version?: number })[] = [];
    for (const [i, row] of input.rows.entries()) {
      const before = known.get(row.code?.trim() ?? "");
      const bad = (what: string, field: string) =>
        problems.push({ code: "INVALID", what: `Row ${i + 2}: ${what}`, field });
      const {
        id: _id,
        bank: _bank,
        version,
        ...old
      } = before ?? { id: 0, bank: "none" as const, version: undefined };
      let partner: PartnerInput;
      try {
        partner = partnerSchema.validateSync(
          {
            supplier: input.role === "supplier",
            customer: input.role === "customer",
            ...old,
            ...Object.fromEntries(
              PARTNER_COLUMNS.flatMap((c) =>
                cellAt(row, c) === undefined
                  ? []
                  : [
                      [
                        c,
                        c === "currency" || c === "terms" ? cellAt(row, c) || null : cellAt(row, c),
                      ],
                    ],
              ),
            ),
          },
          { stripUnknown: true },
        );
      } catch (error) {
        bad((error as Error).message, (error as { path?: string }).path ?? "code");
        continue;
      }
      if (seen.has(partner.code)) bad(`number ${partner.code} stands in the file twice`, "code");
      seen.add(partner.code);
      for (const p of await problemsOf(context, partner)) problems.push({ ...p, line: i + 2 });
      const same = before && PARTNER_COLUMNS.every((c) => (partner[c] ?? "") === (before[c] ?? ""));
      counts[same ? "same" : before ? "changed" : "added"]++;
      if (!same) wanted.push({ ...partner, ...(version === undefined ? {} : { version }) });
    }
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    if (input.take)
      for (const partner of wanted) {
        const saved = await savePartner.definition.run(context, partner);
        if (!saved.ok) return saved;
      }
    return ok(counts);
  },
});
/** Columns of partners as a file, in and out. */
export const PARTNER_COLUMNS = [
  "code",
  "name",
  "street",
  "postcode",
  "city",
  "country",
  "email",
  "deliveryName",
  "deliveryStreet",
  "deliveryPostcode",
  "deliveryCity",
  "deliveryCountry",
  "statementName",
  "statementStreet",
  "statementPostcode",
  "statementCity",
  "statementCountry",
  "statementEmail",
  "taxNumber",
  "lei",
  "language",
  "currency",
  "terms",
  "method",
  "purpose",
  "account",
  "taxCode",
  "shares",
  "hold",
  "creditLimit",
  "creditCurrency",
  "insurer",
  "insuredAmount",
  "insuredUntil",
  "grade",
  "collector",
  "standIn",
  "customerGroup",
  "headOffice",
  "blockReason",
] as const;
