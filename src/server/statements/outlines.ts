import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import {
  catchAccounts,
  LINE_KINDS,
  outlinesOfChart,
  putLine,
  removeLine,
  type Outline,
} from "@/core/statements";
import { fail, ok, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";
import { readOutlines } from "./statements";

export interface OutlineView extends Pick<Outline, "code" | "name" | "kind" | "version" | "lines"> {
  /** Accounts of the chart that no line catches, and those that two lines catch. */
  uncaught: string[];
  caughtTwice: string[];
  savedAt: string;
  savedBy: string;
  /** Changed since the version that statements are made by, which is `used`. */
  draft: boolean;
  used: number;
}

/** The newest version of each outline, in use or not. */
const newestOutlines = (tx: Db): Promise<(Outline & { usedAt: string | null; used: number })[]> =>
  rows(
    tx,
    sql`select distinct on (o.code) o.code, o.version, o.name, o.kind, o.lines, o.layout,
      o.used_at as "usedAt", coalesce((select max(u.version) from outline u
        where u.code = o.code and u.used_at is not null), 0)::int as used
      from outline o order by o.code, o.version desc`,
  );

/** The outlines in force, with what they leave out of the whole chart. */
export const outlines = defineUseCase({
  name: "outlines",
  kind: "read",
  rights: ["read.setup", "setup.rules"],
  what: "see outlines",
  of: "shared",
  schema: object(),
  run: async ({ tx, masters }): Promise<Result<OutlineView[]>> => {
    const saved = await rows<{ code: string; version: number; at: string; by: string }>(
      tx,
      sql`select o.code, o.version, o.saved_at as at, coalesce(p.name, '') as by from outline o left
        join person p on p.id = o.saved_by`,
    );
    return ok(
      (await newestOutlines(tx)).map((o) => {
        const { uncaught, caughtTwice } = catchAccounts(
          o,
          masters.accounts.filter((a) => !a.blocked),
        );
        const version = saved.find((s) => s.code === o.code && s.version === o.version);
        return {
          code: o.code,
          name: o.name,
          kind: o.kind,
          version: o.version,
          lines: o.lines,
          uncaught: uncaught.map((a) => `${a.number} ${a.name}`),
          caughtTwice: caughtTwice.map((a) => `${a.number} ${a.name}`),
          draft: o.usedAt === null,
          used: o.used,
          savedAt: version?.at ?? "",
          savedBy: version?.by ?? "",
        };
      }),
    );
  },
});

/** Makes the statements that there are not yet, out of the chart's own headings. */
export const makeOutlines = defineUseCase({
  name: "makeOutlines",
  kind: "write",
  rights: ["setup.rules"],
  what: "make outlines",
  of: "group",
  schema: object(),
  run: async ({ tx, masters, person, now, audit }): Promise<Result<{ made: string[] }>> => {
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext('outlines'))`);
    if (masters.accounts.length === 0)
      return fail({ code: "REQUIRED", what: "A chart of accounts with headings" });
    const there = new Set((await readOutlines(tx)).map((o) => o.code));
    const wanted = outlinesOfChart(masters.headings, masters.accounts).filter(
      (o) => !there.has(o.code),
    );
    if (wanted.length === 0) return fail({ code: "EXISTS", what: "An outline of each statement" });
    for (const o of wanted) {
      await tx.execute(
        sql`insert into outline (code, version, name, kind, lines, layout, saved_at, saved_by,
          used_at) values (${o.code}, 1, ${o.name}, ${o.kind}, ${JSON.stringify(o.lines)}::jsonb,
          ${JSON.stringify(o.layout)}::jsonb, ${now.toISOString()}, ${person.id},
          ${now.toISOString()})`,
      );
      await audit({ action: "added", kind: "outline", recordId: o.code, label: o.name });
    }
    return ok({ made: wanted.map((o) => o.code) });
  },
});

/**
 * Changes one line of an outline, adds one or takes one out. Each change is a new version, a draft
 * until it is used: statements stay as they are meanwhile.
 */
export const saveOutlineLine = defineUseCase({
  name: "saveOutlineLine",
  kind: "write",
  rights: ["setup.rules"],
  what: "change outlines",
  of: "group",
  schema: object({
    outline: string().required(),
    version: number().integer().required(),
    remove: boolean().default(false),
    code: string()
      .required("A code is needed")
      .matches(
        /^[a-z][a-z0-9-]{0,39}$/,
        "A code has small letters, figures and dashes, like other-income",
      ),
    label: string()
      .max(80)
      .default("")
      .when("remove", { is: false, then: (s) => s.required("A label is needed") }),
    level: number().integer().min(0).max(5).default(0),
    kind: string().oneOf(LINE_KINDS).default("accounts"),
    ranges: string().max(2000).default(""),
    of: string().max(2000).default(""),
    positive: string()
      .oneOf(["debit", "credit"] as const)
      .default("credit"),
    rule: string()
      .oneOf(["", "single", "double"] as const)
      .default(""),
    after: string().nullable().default(null),
  }),
  run: async ({ tx, person, now, audit }, input) => {
    // The outline's versions are taken one after the other.
    await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`outline ${input.outline}`}))`);
    const outline = (await newestOutlines(tx)).find((o) => o.code === input.outline);
    if (!outline)
      return fail({
        code: "NOT_FOUND",
        what: `outline ${input.outline.slice(0, 40)}`,
        field: "outline",
      });
    if (outline.version !== input.version) return fail({ code: "STALE", by: "Somebody", at: "" });
    const lines = input.remove
      ? removeLine(outline, input.code)
      : putLine(outline, input, input.after);
    if (!lines.ok) return lines;
    const version = outline.version + 1;
    await tx.execute(
      sql`insert into outline (code, version, name, kind, lines, layout, saved_at, saved_by)
        values (${outline.code}, ${version}, ${outline.name}, ${outline.kind},
        ${JSON.stringify(lines.value)}::jsonb, ${JSON.stringify(outline.layout)}::jsonb,
        ${now.toISOString()}, ${person.id})`,
    );
    await audit({
      action: input.remove ? "line removed" : "changed",
      kind: "outline",
      recordId: outline.code,
      label: `${outline.name}, ${input.code}`,
      before: outline.lines.find((l) => l.code === input.code),
      after: lines.value.find((l) => l.code === input.code),
    });
    return ok({ version });
  },
});

const decideSchema = object({
  outline: string().required(),
  version: number().integer().required(),
});

/** Finds the draft that a person has seen, under the outline's lock. */
async function draftOf(tx: Db, code: string, version: number) {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${`outline ${code}`}))`);
  const outline = (await newestOutlines(tx)).find((o) => o.code === code);
  if (!outline)
    return fail({ code: "NOT_FOUND", what: `outline ${code.slice(0, 40)}`, field: "outline" });
  if (outline.version !== version) return fail({ code: "STALE", by: "Somebody", at: "" });
  if (outline.usedAt !== null) return fail({ code: "IN_USE", what: "It is in use already" });
  return ok(outline);
}

/**
 * Makes the statements by a changed outline from now on. One that leaves an account out, or has one
 * on two lines, is not used: what it shows would be wrong.
 */
export const putOutlineToUse = defineUseCase({
  name: "putOutlineToUse",
  kind: "write",
  closes: true,
  rights: ["setup.rules"],
  what: "change outlines",
  of: "group",
  schema: decideSchema,
  run: async ({ tx, masters, now, audit }, input): Promise<Result<{ version: number }>> => {
    const draft = await draftOf(tx, input.outline, input.version);
    if (!draft.ok) return draft;
    const { uncaught, caughtTwice } = catchAccounts(
      draft.value,
      masters.accounts.filter((a) => !a.blocked),
    );
    const faults = [
      ...uncaught.map((a) => `${a.number} ${a.name} is on no line`),
      ...caughtTwice.map((a) => `${a.number} ${a.name} is on two lines`),
    ];
    if (faults.length > 0)
      return fail({
        code: "INVALID",
        what: `It is not used yet: ${faults.slice(0, 3).join("; ")}${faults.length > 3 ? ` and ${faults.length - 3} more` : ""}`,
      });
    await tx.execute(
      sql`update outline set used_at = ${now.toISOString()}
        where code = ${input.outline} and version = ${input.version}`,
    );
    await audit({
      action: "used",
      kind: "outline",
      recordId: input.outline,
      label: `${draft.value.name}, version ${input.version}`,
    });
    return ok({ version: input.version });
  },
});

/** Drops what was changed since the version in use. */
export const discardOutline = defineUseCase({
  name: "discardOutline",
  kind: "write",
  rights: ["setup.rules"],
  what: "change outlines",
  of: "group",
  schema: decideSchema,
  run: async ({ tx, audit }, input): Promise<Result<object>> => {
    const draft = await draftOf(tx, input.outline, input.version);
    if (!draft.ok) return draft;
    await tx.execute(
      sql`delete from outline where code = ${input.outline} and version > ${draft.value.used}
        and used_at is null`,
    );
    await audit({
      action: "discarded",
      kind: "outline",
      recordId: input.outline,
      label: `${draft.value.name}, version ${input.version}`,
      before: draft.value.lines,
    });
    return ok({});
  },
});
