import { array, boolean, object } from "yup";
import { ACCOUNT_TYPES, CONTROL_KINDS } from "@/core/ledger";
import { fail, ok, textRecord, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { saveAccount } from "./setUp";

/** Columns of the chart as a file, in and out. */
export const CHART_COLUMNS = [
  "number",
  "name",
  "type",
  "control",
  "monetary",
  "heading",
  "blocked",
] as const;

/**
 * Takes accounts in from a file: all of them or, with one problem anywhere, none. Without `take` it
 * only says what would happen.
 */
export const loadChart = defineUseCase({
  name: "loadChart",
  kind: "write",
  rights: ["setup.organisation"],
  what: "load the chart of accounts",
  schema: object({
    rows: array(textRecord()).required().max(20_000),
    take: boolean().default(false),
  }),
  run: async (
    context,
    input,
  ): Promise<Result<{ added: number; changed: number; same: number }>> => {
    const { masters } = context;
    const problems: Found[] = [];
    const seen = new Map<string, number>();
    const accounts: {
      number: string;
      name: string;
      type: string;
      control: string | null;
      monetary: boolean;
      heading: string;
      blocked: boolean;
      companies: string[];
      rules: Record<string, string>;
    }[] = [];
    const counts = { added: 0, changed: 0, same: 0 };
    const headings = new Set(masters.headings.map((h) => h.code));
    input.rows.forEach((row, i) => {
      const line = i + 2;
      const bad = (what: string, field: string) =>
        problems.push({ code: "INVALID", what: `Row ${line}: ${what}`, field });
      const number = row.number ?? "";
      const yes = (text: string | undefined) => /^(yes|true|1|x)$/i.test(text ?? "");
      if (!/^[0-9A-Z][0-9A-Z.-]{0,19}$/.test(number))
        return void bad(`“${number.slice(0, 30)}” is no account number`, "number");
      if (seen.has(number))
        bad(`account ${number} stands in row ${seen.get(number)} already`, "number");
      seen.set(number, line);
      if (!row.name) bad("the name is missing", "name");
      if (!(ACCOUNT_TYPES as readonly string[]).includes(row.type ?? ""))
        bad(
          `“${(row.type ?? "").slice(0, 30)}” is no account type; use ${ACCOUNT_TYPES.join(", ")}`,
          "type",
        );
      if (row.control && !(CONTROL_KINDS as readonly string[]).includes(row.control))
        bad(
          `“${row.control.slice(0, 30)}” is no control kind; use ${CONTROL_KINDS.join(", ")} or nothing`,
          "control",
        );
      if (!headings.has(row.heading ?? ""))
        bad(`there is no heading ${(row.heading ?? "").slice(0, 20)}`, "heading");
      const before = masters.accountByNumber.get(number);
      const account = {
        number,
        name: row.name ?? "",
        type: row.type ?? "",
        control: row.control || null,
        monetary: yes(row.monetary),
        heading: row.heading ?? "",
        blocked: yes(row.blocked),
        companies: [...(before?.usedBy ?? [])],
        rules: Object.fromEntries(
          Object.entries(before?.rules ?? {}).map(([id, rule]) => [
            masters.dimensionById.get(Number(id))!.code,
            rule as string,
          ]),
        ),
      };
      const same =
        before &&
        before.name === account.name &&
        before.type === account.type &&
        before.control === account.control &&
        before.monetary === account.monetary &&
        before.blocked === account.blocked &&
        masters.headingById.get(before.headingId)?.code === account.heading;
      if (same) counts.same++;
      else {
        counts[before ? "changed" : "added"]++;
        accounts.push(account);
      }
    });
    if (problems.length > 0) return fail(...problems);
    if (input.take)
      for (const account of accounts) {
        const saved = await saveAccount.definition.run(context, account);
        if (!saved.ok) return saved;
      }
    return ok(counts);
  },
});
