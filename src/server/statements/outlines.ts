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
import { rows } from "../db";
import { defineUseCase } from "../access";
import { readOutlines } from "./statements";

export interface OutlineView extends Pick<Outline, "code" | "name" | "kind" | "version" | "lines"> {
  /** Accounts of the chart that no line catches, and those that two lines catch. */
  uncaught: string[];
  caughtTwice: string[];
  savedAt: string;
  savedBy: string;
}

/** The outlines in force, with what they leave out of the whole chart. */
export const outlines = defineUseCase({
  name: "outlines",
  kind: "read",
  rights: ["read.setup", "setup.rules"],
  what: "see outlines",
  schema: object(),
  run: async ({ tx, masters }): Promise<Result<OutlineView[]>> => {
    const saved = await rows<{ code: string; version: number; at: string; by: string }>(
      tx,
      sql`select o.code, o.version, o.saved_at as at, coalesce(p.name, '') as by from outline o left
        join person p on p.id = o.saved_by`,
    );
    return ok(
      (await readOutlines(tx)).map((o) => {
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
        sql`insert into outline (code, version, name, kind, lines, layout, saved_at, saved_by)
          values (${o.code}, 1, ${o.name}, ${o.kind}, ${JSON.stringify(o.lines)}::jsonb,
          ${JSON.stringify(o.layout)}::jsonb, ${now.toISOString()}, ${person.id})`,
      );
      await audit({ action: "added", kind: "outline", recordId: o.code, label: o.name });
    }
    return ok({ made: wanted.map((o) => o.code) });
  },
});

/**
 * Changes one line of an outline, adds one or takes one out. Each change is a new version, so that
 * reports as known then keep theirs.
 */
export const saveOutlineLine = defineUseCase({
  name: "saveOutlineLine",
  kind: "write",
  rights: ["setup.rules"],
  what: "change outlines",
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
    const outline = (await readOutlines(tx)).find((o) => o.code === input.outline);
    if (!outline)
      return fail({
        code: "NOT_FOUND",
        what: `outline ${input.outline.slice(0, 40)}`,
        field: "outline",
      });
    if (outline.version !== input.version)
      return fail({ code: "STALE", by: "Somebody", at: "a moment ago" });
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
