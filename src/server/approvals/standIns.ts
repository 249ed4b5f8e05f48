import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, isCalendarDate, ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

/** Names who decides for this person while they are away; without a name, nobody does. */
export const saveStandIn = defineUseCase({
  name: "saveStandIn",
  kind: "write",
  rights: "signed-in",
  what: "name a stand-in",
  of: "self",
  schema: object({
    standIn: string().nullable().default(null),
    from: string().default(""),
    to: string().default(""),
  }),
  run: async ({ tx, person, audit }, input) => {
    if (!input.standIn) await tx.execute(sql`delete from stand_in where person_id = ${person.id}`);
    else {
      for (const field of ["from", "to"] as const)
        if (!isCalendarDate(input[field]))
          return fail({ code: "DATE_INVALID", text: input[field], field });
      if (input.to < input.from)
        return fail({ code: "INVALID", what: "It ends before it begins", field: "to" });
      const [other] = await rows<{ id: number }>(
        tx,
        sql`select id from person where login = ${input.standIn} and active and id <> ${person.id}`,
      );
      if (!other)
        return fail({ code: "NOT_FOUND", what: `other person ${input.standIn}`, field: "standIn" });
      await tx.execute(
        sql`insert into stand_in (person_id, stand_in_id, from_date, to_date)
          values (${person.id}, ${other.id}, ${input.from}, ${input.to})
          on conflict (person_id) do update set stand_in_id = excluded.stand_in_id,
          from_date = excluded.from_date, to_date = excluded.to_date`,
      );
    }
    await audit({
      action: "stand-in",
      kind: "person",
      recordId: person.id,
      label: person.login,
      after: input,
    });
    return ok({});
  },
});

/** Who stands in for this person, and who could. */
export const standInOf = defineUseCase({
  name: "standInOf",
  kind: "read",
  rights: "signed-in",
  what: "see one's stand-in",
  of: "self",
  schema: object(),
  run: async ({ tx, person }) => {
    const [now] = await rows<{ login: string; from: string; to: string }>(
      tx,
      sql`select p.login, s.from_date as "from", s.to_date as "to" from stand_in s
        join person p on p.id = s.stand_in_id where s.person_id = ${person.id}`,
    );
    return ok({
      now: now ?? null,
      people: await rows<{ login: string; name: string }>(
        tx,
        sql`select login, name from person where active and id <> ${person.id} order by name`,
      ),
    });
  },
});
