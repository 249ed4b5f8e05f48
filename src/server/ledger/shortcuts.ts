import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { journalInput, journalInputSchema, type JournalInput } from "@/core/ledger";
import { fail, ok, textRecord, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

export interface Shortcut {
  id: number;
  name: string;
  account: string;
  dimensions: Record<string, string>;
  description: string;
  /** The person's own, or everybody's in the company. */
  own: boolean;
}

/**
 * The saved codings that a person can type in a company. A person's own stands before everybody's
 * of the same name.
 */
export const listShortcuts = defineUseCase({
  name: "listShortcuts",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "use shortcuts",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, person }, input): Promise<Result<Shortcut[]>> =>
    ok(
      await rows<Shortcut>(
        tx,
        sql`select distinct on (s.name) s.id, s.name, s.account, s.dimensions, s.description,
          s.person_id is not null as own from shortcut s join company c on c.id = s.company_id
            where c.code = ${input.company} and (s.person_id is null or s.person_id = ${person.id})
              order by s.name, s.person_id nulls last`,
      ),
    ),
});

/** Keeps the coding of a line under a name. */
export const saveShortcut = defineUseCase({
  name: "saveShortcut",
  kind: "write",
  rights: ["setup.shortcuts"],
  what: "save shortcuts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    name: string()
      .required("A name is needed")
      .matches(
        /^[a-z0-9][a-z0-9.-]{0,29}$/,
        "A name has small letters, figures, dots and dashes, like fuel-lantern",
      ),
    account: string().required("The line has no account yet"),
    dimensions: textRecord(),
    description: string().max(200).default(""),
    shared: boolean().default(false),
  }),
  run: async ({ tx, masters, person, audit }, input) => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!masters.accountByNumber.has(input.account))
      return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    for (const [code, value] of Object.entries(input.dimensions)) {
      const dimension = masters.dimensionByCode.get(code);
      if (!dimension)
        return fail({ code: "DIMENSION_UNKNOWN", dimension: code, field: "dimensions" });
      if (value && !masters.value(dimension.id, value))
        return fail({
          code: "VALUE_UNKNOWN",
          dimension: dimension.name.toLowerCase(),
          value,
          field: "dimensions",
        });
    }
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into shortcut (company_id, person_id, name, account, dimensions, description)
        values (${company.id}, ${input.shared ? null : person.id}, ${input.name}, ${input.account},
        ${JSON.stringify(input.dimensions)}::jsonb, ${input.description})
          on conflict (company_id, person_id, name) do update set account = excluded.account,
            dimensions = excluded.dimensions, description = excluded.description returning id`,
    );
    await audit({
      action: "saved",
      kind: "shortcut",
      recordId: saved!.id,
      label: `@${input.name}`,
      companyId: company.id,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

export const deleteShortcut = defineUseCase({
  name: "deleteShortcut",
  kind: "write",
  rights: ["setup.shortcuts"],
  what: "delete shortcuts",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, person, audit, may }, input) => {
    const [there] = await rows<{ company: string }>(
      tx,
      sql`select c.code as company from shortcut s join company c on c.id = s.company_id
        where s.id = ${input.id}`,
    );
    if (there && !may("setup.shortcuts", there.company))
      return fail({ code: "FORBIDDEN", what: `delete shortcuts of ${there.company}` });
    const [gone] = await rows<{ name: string }>(
      tx,
      sql`delete from shortcut
        where id = ${input.id} and (person_id is null or person_id = ${person.id}) returning name`,
    );
    if (!gone) return fail({ code: "NOT_FOUND", what: "such shortcut" });
    await audit({
      action: "deleted",
      kind: "shortcut",
      recordId: input.id,
      label: `@${gone.name}`,
    });
    return ok({});
  },
});

export interface Template {
  id: number;
  name: string;
  content: JournalInput;
  savedBy: string;
}

export const listTemplates = defineUseCase({
  name: "listTemplates",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "use templates",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx }, input): Promise<Result<Template[]>> => {
    const found = await rows<Template>(
      tx,
      sql`select t.id, t.name, t.content, p.name as "savedBy" from journal_template t
        join company c on c.id = t.company_id join person p on p.id = t.saved_by
        where c.code = ${input.company} order by t.name`,
    );
    return ok(found.map((t) => ({ ...t, content: journalInput(t.content) })));
  },
});

/** Keeps a journal as one to start from, with or without its amounts. */
export const saveTemplate = defineUseCase({
  name: "saveTemplate",
  kind: "write",
  rights: ["setup.shortcuts"],
  what: "save templates",
  company: (i) => i.content.company,
  schema: object({
    name: string().trim().required("A name is needed").max(80),
    amounts: boolean().default(true),
    content: journalInputSchema.required(),
  }),
  run: async ({ tx, masters, person, audit }, input) => {
    const content = input.content as JournalInput;
    const company = masters.companyByCode.get(content.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: content.company, field: "company" });
    const kept: JournalInput = {
      ...content,
      date: "",
      reverseOn: "",
      lines: input.amounts
        ? content.lines
        : content.lines.map((l) => ({ ...l, debit: "", credit: "", functional: "", quantity: "" })),
    };
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into journal_template (company_id, name, content, saved_by)
        values (${company.id}, ${input.name}, ${JSON.stringify(kept)}::jsonb, ${person.id})
          on conflict (company_id, name) do update set content = excluded.content,
            saved_by = excluded.saved_by, saved_at = now() returning id`,
    );
    await audit({
      action: "saved",
      kind: "template",
      recordId: saved!.id,
      label: input.name,
      companyId: company.id,
    });
    return ok({ id: saved!.id });
  },
});

export const deleteTemplate = defineUseCase({
  name: "deleteTemplate",
  kind: "write",
  rights: ["setup.shortcuts"],
  what: "delete templates",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, audit, may }, input) => {
    const [there] = await rows<{ company: string }>(
      tx,
      sql`select c.code as company from journal_template t join company c on c.id = t.company_id
        where t.id = ${input.id}`,
    );
    if (there && !may("setup.shortcuts", there.company))
      return fail({ code: "FORBIDDEN", what: `delete templates of ${there.company}` });
    const [gone] = await rows<{ name: string }>(
      tx,
      sql`delete from journal_template where id = ${input.id} returning name`,
    );
    if (!gone) return fail({ code: "NOT_FOUND", what: "such template" });
    await audit({ action: "deleted", kind: "template", recordId: input.id, label: gone.name });
    return ok({});
  },
});
