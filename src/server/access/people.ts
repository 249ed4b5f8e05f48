import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { checkPassword, personSchema, type Role } from "@/core/access";
import { fail, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { hasSecondFactor } from "./demandedFactor";
import { confirmPassword, hashPassword } from "./sessions";
import { defineUseCase } from "./useCase";

export interface PersonRow {
  id: number;
  login: string;
  name: string;
  initials: string;
  active: boolean;
  locked: boolean;
  secondFactor: boolean;
  grants: { role: Role; company: string | null }[];
}

const LIST = sql`select p.id, p.login, p.name, p.initials, p.active,
  coalesce(p.locked_until > now(), false) as locked,
  ${hasSecondFactor(sql`p.id`)} as "secondFactor",
  coalesce((select jsonb_agg(jsonb_build_object('role', r.role, 'company', c.code) order by r.id)
    from person_role r left join company c on c.id = r.company_id where r.person_id = p.id),
    '[]') as grants
  from person p`;

const READ = ["read.setup", "setup.people"] as const;

/** People with rights in the companies whose people this one sees. */
export const listPeople = defineUseCase({
  name: "listPeople",
  kind: "read",
  rights: READ,
  what: "see people and their rights",
  of: "checked",
  schema: object(),
  run: async ({ tx, may, mayEverywhere }) => {
    const all = await rows<PersonRow>(tx, sql`${LIST} order by p.name`);
    if (READ.some((r) => mayEverywhere(r))) return ok(all);
    const seen = (company: string | null) => company !== null && READ.some((r) => may(r, company));
    return ok(all.filter((p) => p.grants.some((g) => seen(g.company))));
  },
});

export const grantsOf = async (tx: Db, personId: number): Promise<PersonRow["grants"]> =>
  (await rows<PersonRow>(tx, sql`${LIST} where p.id = ${personId}`))[0]?.grants ?? [];

export const savePerson = defineUseCase({
  name: "savePerson",
  kind: "write",
  rights: ["setup.people"],
  what: "change people and their rights",
  // Nobody gives or takes a right, or sets a password, beyond where they manage people themselves.
  of: async ({ tx }, input) => [
    ...(await grantsOf(tx, input.id ?? 0)).map((g) => g.company),
    ...input.grants.map((g) => g.company),
  ],
  schema: personSchema,
  run: async ({ tx, masters, audit }, input) => {
    const [clash] = await rows<{ id: number }>(
      tx,
      sql`select id from person where login = ${input.login} and id <> ${input.id ?? 0}`,
    );
    if (clash)
      return fail({ code: "EXISTS", what: `The sign-in name ${input.login}`, field: "login" });
    const strange = input.grants.find((g) => g.company && !masters.companyByCode.has(g.company));
    if (strange)
      return fail({ code: "COMPANY_UNKNOWN", company: strange.company!, field: "grants" });
    const [before] = input.id
      ? await rows<PersonRow>(tx, sql`${LIST} where p.id = ${input.id}`)
      : [];
    if (input.id && !before) return fail({ code: "NOT_FOUND", what: "such person" });
    if (!input.id || input.password) {
      const password = checkPassword(input.password ?? "", input.login);
      if (!password.ok) return password;
    }
    const initials = input.name
      .split(/\s+/)
      .map((w) => w[0] ?? "")
      .join("")
      .slice(0, 3)
      .toUpperCase();
    const passwordHash = input.password ? await hashPassword(input.password) : null;
    const [saved] = input.id
      ? await rows<{ id: number }>(
          tx,
          sql`update person set login = ${input.login}, name = ${input.name},
            initials = ${initials}, active = ${input.active},
            password_hash = coalesce(${passwordHash}, password_hash), locked_until = null,
            failed_attempts = 0 where id = ${input.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into person (login, name, initials, active, password_hash)
            values (${input.login}, ${input.name}, ${initials}, ${input.active}, ${passwordHash})
            returning id`,
        );
    await tx.execute(sql`delete from person_role where person_id = ${saved!.id}`);
    for (const g of input.grants)
      await tx.execute(
        sql`insert into person_role (person_id, role, company_id)
          values (${saved!.id}, ${g.role},
          ${g.company ? masters.companyByCode.get(g.company)!.id : null}) on conflict do nothing`,
      );
    // A new password or a withdrawn person ends what was open under the old one.
    if (input.id && (input.password || !input.active))
      await tx.execute(sql`delete from session where person_id = ${saved!.id}`);
    const [left] = await rows<{ there: boolean }>(
      tx,
      sql`select exists (select 1 from person p join person_role r on r.person_id = p.id
        where p.active and r.role = 'admin' and r.company_id is null) as there`,
    );
    if (!left!.there) return fail({ code: "LAST_ADMINISTRATOR", field: "grants" });
    const [after] = await rows<PersonRow>(tx, sql`${LIST} where p.id = ${saved!.id}`);
    await audit({
      action: before ? "changed" : "added",
      kind: "person",
      recordId: saved!.id,
      label: input.login,
      before,
      after: { ...after, ...(input.password ? { password: "changed" } : {}) },
    });
    return ok({ id: saved!.id });
  },
});

/** Changes one's own password; the one that holds now is asked for. */
export const changePassword = defineUseCase({
  name: "changePassword",
  kind: "write",
  rights: "signed-in",
  what: "change your password",
  of: "self",
  schema: object({
    current: string().required("Your password now is needed").max(200),
    password: string().required("A new password is needed").max(200),
  }),
  prepare: ({ current }, { database, person, now }) =>
    confirmPassword(database, person.id, current, now?.()),
  run: async ({ tx, person, audit }, input) => {
    const password = checkPassword(input.password, person.login);
    if (!password.ok) return password;
    await tx.execute(
      sql`update person set password_hash = ${await hashPassword(input.password)} where id = ${person.id}`,
    );
    // Whoever knew the old one is out, on every screen and in every program but this.
    await tx.execute(
      sql`delete from session where person_id = ${person.id} and hash <> ${person.session ?? ""}`,
    );
    await audit({
      action: "password changed",
      kind: "person",
      recordId: person.id,
      label: person.login,
    });
    return ok({});
  },
});

export interface SessionRow {
  /** What it is named by; the secret itself is known to nobody here. */
  id: string;
  kind: "screen" | "token";
  since: string;
  lastSeen: string;
  until: string;
  address: string;
  /** The one that asks. */
  own: boolean;
}
const NAME_LENGTH = 16;

/** A person's own sign-ins and tokens of programs. */
export const listSessions = defineUseCase({
  name: "listSessions",
  kind: "read",
  rights: "signed-in",
  what: "see your sign-ins",
  of: "self",
  schema: object(),
  run: async ({ tx, person }): Promise<Result<SessionRow[]>> =>
    ok(
      await rows<SessionRow>(
        tx,
        sql`select left(hash, ${NAME_LENGTH}::int) as id, kind, created_at as since,
          last_seen as "lastSeen", expires_at as until, address,
          hash = ${person.session ?? ""} as own
          from session where person_id = ${person.id} and expires_at > now()
          order by last_seen desc`,
      ),
    ),
});

/** Days for which a sign-in from a new place is pointed out. */
const NEW_PLACE_DAYS = 7;

/**
 * Sign-ins of the last days from an address from which the person had never signed in before, other
 * than the one that asks: shown at the next sign-in, for them to say that it was not they.
 */
export const signInsFromNewPlaces = defineUseCase({
  name: "signInsFromNewPlaces",
  kind: "read",
  rights: "signed-in",
  what: "see your sign-ins",
  of: "self",
  schema: object(),
  run: async ({ tx, person }): Promise<Result<{ at: string; address: string }[]>> =>
    ok(
      await rows<{ at: string; address: string }>(
        tx,
        sql`with own as (select id, at, after->>'address' as address from audit_event
            where kind = 'person' and record_id = ${String(person.id)} and person_id = ${person.id}
              and action in ('signed in', 'token made') and coalesce(after->>'address', '') <> '')
          select o.at, o.address from own o
          where o.at > now() - make_interval(days => ${NEW_PLACE_DAYS})
            and not exists (select 1 from own e where e.id < o.id and e.address = o.address)
            and exists (select 1 from own e where e.id < o.id)
            and o.address <> coalesce((select s.address from session s
              where s.hash = ${person.session ?? ""}), '')
          order by o.id desc limit 5`,
      ),
    ),
});

/** Ends one of a person's own sign-ins or tokens. */
export const endSession = defineUseCase({
  name: "endSession",
  kind: "write",
  rights: "signed-in",
  what: "end your sign-ins",
  of: "self",
  schema: object({ id: string().required().length(NAME_LENGTH) }),
  run: async ({ tx, person, audit }, input) => {
    const ended = await rows<{ kind: string }>(
      tx,
      sql`delete from session where person_id = ${person.id}
        and left(hash, ${NAME_LENGTH}::int) = ${input.id} returning kind`,
    );
    if (ended.length === 0) return fail({ code: "NOT_FOUND", what: "such sign-in" });
    await audit({
      action: ended[0]!.kind === "token" ? "token ended" : "sign-in ended",
      kind: "person",
      recordId: person.id,
      label: person.login,
    });
    return ok({});
  },
});

export const savePreference = defineUseCase({
  name: "savePreference",
  kind: "write",
  rights: "signed-in",
  what: "keep preferences",
  of: "self",
  schema: object({ key: string().required().max(80), value: string().required().max(5000) }),
  run: async ({ tx, person }, input) => {
    await tx.execute(
      sql`insert into preference (person_id, key, value) values (${person.id}, ${input.key},
        ${JSON.stringify(input.value)}::jsonb)
        on conflict (person_id, key) do update set value = excluded.value`,
    );
    return ok({});
  },
});

export const readPreferences = defineUseCase({
  name: "readPreferences",
  kind: "read",
  rights: "signed-in",
  what: "read preferences",
  of: "self",
  schema: object(),
  run: async ({ tx, person }) => {
    const found = await rows<{ key: string; value: string }>(
      tx,
      sql`select key, value #>> '{}' as value from preference where person_id = ${person.id}`,
    );
    return ok(Object.fromEntries(found.map((f) => [f.key, f.value])));
  },
});
