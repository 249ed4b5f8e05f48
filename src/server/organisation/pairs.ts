import { pairSchema } from "@/core/organisation";
import { sql } from "drizzle-orm";
import { fail, ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

/**
 * Two companies as partners in trade: the accounts due from and due to of each side, and the type
 * of the journal on the other side.
 */
export const savePair = defineUseCase({
  name: "savePair",
  kind: "write",
  rights: ["setup.rules", "setup.organisation"],
  what: "set up partners in trade",
  of: "group",
  schema: pairSchema,
  run: async ({ tx, masters, audit }, input) => {
    for (const field of ["first", "second"] as const)
      if (!masters.companyByCode.has(input[field]))
        return fail({ code: "COMPANY_UNKNOWN", company: input[field], field });
    if (input.first === input.second)
      return fail({
        code: "INVALID",
        what: "A company does not trade with itself",
        field: "second",
      });
    for (const [field, types] of [
      ["firstDueFrom", "asset"],
      ["firstDueTo", "liability"],
      ["secondDueFrom", "asset"],
      ["secondDueTo", "liability"],
    ] as const) {
      const account = masters.accountByNumber.get(input[field]);
      if (!account) return fail({ code: "ACCOUNT_UNKNOWN", account: input[field], field });
      if (account.type !== types)
        return fail({
          code: "INVALID",
          what: `Account ${account.number} is no ${types} account`,
          field,
        });
      const company = masters.companyByCode.get(
        field.startsWith("first") ? input.first : input.second,
      )!;
      if (account.usedBy && !account.usedBy.includes(company.code))
        return fail({
          code: "ACCOUNT_NOT_USED",
          account: account.number,
          name: account.name,
          company: company.name,
          field,
        });
    }
    if (!masters.typeByCode.has(input.type))
      return fail({ code: "TYPE_UNKNOWN", type: input.type, field: "type" });
    const [a, b] = [
      masters.companyByCode.get(input.first)!,
      masters.companyByCode.get(input.second)!,
    ];
    const swap = a.id > b.id;
    const side = (one: "first" | "second") => (swap ? (one === "first" ? "second" : "first") : one);
    const before = masters.pair(input.first, input.second);
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into company_pair (first_id, second_id, first_due_from, first_due_to,
        second_due_from, second_due_to, type)
          values (${Math.min(a.id, b.id)}, ${Math.max(a.id, b.id)},
            ${input[`${side("first")}DueFrom`]}, ${input[`${side("first")}DueTo`]},
            ${input[`${side("second")}DueFrom`]}, ${input[`${side("second")}DueTo`]}, ${input.type})
          on conflict (first_id, second_id) do update set first_due_from = excluded.first_due_from,
            first_due_to = excluded.first_due_to, second_due_from = excluded.second_due_from,
            second_due_to = excluded.second_due_to, type = excluded.type returning id`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "pair",
      recordId: saved!.id,
      label: `${input.first} and ${input.second}`,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
