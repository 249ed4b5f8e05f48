import { sql } from "drizzle-orm";
import {
  atEntry,
  checkEntry,
  mergeProblems,
  readJournal,
  type EntryCheck,
  type JournalInput,
  type JournalReading,
  type PostingContext,
} from "@/core/ledger";
import { describeFound, fail, ok, type Found, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { type Context } from "../access";
import { loadPostingContext, postDrafts, type PostedJournal } from "./posting";
import { ratesFor } from "../rates";
import { ruleFor, whyOf } from "./approvalRules";
import { linkJournals } from "./linkedJournals";

/** A problem as it is shown: its sentence and its place. */
export interface ShownProblem {
  line: number | null;
  field: string | null;
  code: string;
  message: string;
}
export const showProblem = (p: Found): ShownProblem => ({
  line: p.line ?? null,
  field: p.field ?? null,
  code: p.code,
  message: describeFound(p),
});

export const functionalOf =
  ({ masters }: Context) =>
  (code: string): string | undefined =>
    masters.companyByCode.get(code)?.currency;

export interface ReadEntry {
  input: JournalInput;
  reading: JournalReading;
  check: EntryCheck;
}

/** Reads and checks any number of journals as written, with as many queries as one takes. */
export async function readEntries(
  context: Context,
  inputs: readonly JournalInput[],
): Promise<{ entries: ReadEntry[]; posting: PostingContext }> {
  const { masters, tx } = context;
  const readings = inputs.map((input) => {
    const reading = readJournal(input, functionalOf(context), context.today);
    const type = masters.typeByCode.get(input.type);
    if (type && !type.manual)
      reading.problems.push({ code: "TYPE_NOT_MANUAL", type: type.name, field: "type" });
    return reading;
  });
  const wanted = readings.map(({ entry }) => ({
    entry,
    companies: [...new Set([entry.company, ...entry.lines.flatMap((l) => l.company ?? [])])],
  }));
  const rates = await ratesFor(
    tx,
    masters,
    wanted.map(({ entry, companies }) => ({
      companies,
      currency: entry.currency,
      date: entry.date,
    })),
  );
  const posting = await loadPostingContext(
    context,
    wanted.flatMap(({ entry, companies }) =>
      companies.map((company) => ({
        company,
        date: entry.date,
        type: entry.type,
        lines: entry.lines,
      })),
    ),
  );
  return {
    posting,
    entries: readings.map((reading, i) => ({
      input: inputs[i]!,
      reading,
      check: checkEntry(reading, posting, rates),
    })),
  };
}

/** A journal as it is read, with what it is checked against. */
export interface Prepared {
  reading: JournalReading;
  posting: PostingContext;
  check: EntryCheck;
}

export async function readOne(context: Context, input: JournalInput): Promise<Result<Prepared>> {
  if (!context.masters.companyByCode.has(input.company))
    return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const { entries, posting } = await readEntries(context, [input]);
  return ok({ reading: entries[0]!.reading, posting, check: entries[0]!.check });
}

/**
 * Posts journals as written, all or none. Those of several companies are linked. The answer holds
 * one posted journal for each entry.
 * Problems carry the entry's place (from 0) where there are several.
 */
export async function postEntries(
  context: Context,
  inputs: readonly JournalInput[],
  documentIds: readonly (number | undefined)[] = [],
  options: { approved?: boolean } = {},
): Promise<Result<PostedJournal[]>> {
  const { entries } = await readEntries(context, inputs);
  const several = inputs.length > 1;
  const found = entries.flatMap((e, journal) =>
    e.check.problems.map((p) => (several ? { ...p, journal } : p)),
  );
  if (found.length > 0) return fail(...found);
  if (!options.approved) {
    const rules = await ruleFor(
      context,
      entries.map((e) => e.reading.entry),
    );
    const needed = rules.flatMap((rule, journal): Found[] =>
      rule ? [{ code: "APPROVAL_NEEDED", why: whyOf(rule), ...(several ? { journal } : {}) }] : [],
    );
    if (needed.length > 0) return fail(...needed);
  }
  const ids = documentIds.filter((id) => id !== undefined);
  const by = new Map(
    (ids.length > 0
      ? await rows<{ id: bigint; by: number }>(
          context.tx,
          sql`select id, created_by as by from document where id = any(${arrayOf(ids)}::bigint[])`,
        )
      : []
    ).map((r) => [Number(r.id), r.by]),
  );
  const drafts = entries.flatMap((e, journal) =>
    e.check.drafts.map(({ draft, sources }, n) => ({
      draft,
      sources,
      journal,
      id: n === 0 ? documentIds[journal] : undefined,
      by: by.get(documentIds[journal] ?? -1) ?? context.person.id,
    })),
  );
  const posted = await postDrafts(
    context,
    drafts.map((d) => d.draft),
    { documentIds: drafts.map((d) => d.id), preparedBy: drafts.map((d) => d.by) },
  );
  if (!posted.ok)
    return fail(
      ...posted.problems.flatMap((p) => {
        const at = drafts[p.journal ?? 0]!;
        return mergeProblems(entries[at.journal]!.reading, [atEntry(p, at.sources)]).map((q) =>
          several ? { ...q, journal: at.journal } : q,
        );
      }),
    );
  const groups = entries.map((_, journal) =>
    posted.value.slice(0, drafts.length).filter((_p, i) => drafts[i]!.journal === journal),
  );
  for (const group of groups)
    if (group.length > 1) await linkJournals(context.tx, [group.map((p) => p.id)]);
  return ok(groups.map((g) => g[0]!));
}
