import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import {
  findHeadings,
  journalInputSchema,
  readHeadings,
  recogniseColumns,
  recogniseUnderHeadings,
  rowsToJournals,
  tableToRows,
  understand,
  loadBalances,
  type LoadBalance,
  doubtsOf,
  type JournalEntry,
  type JournalInput,
  type KnownCodes,
  type LoadCommon,
  type WhyAside,
} from "@/core/ledger";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows, schema as tables, sha256 } from "../db";
import { defineUseCase, type Caller, type Context, lockChains } from "../access";
import { ruleFor, whyOf } from "./approvalRules";
import { keepOne } from "../keptDocuments";
import { DRAFTS, submitDraft } from "./drafts";
import {
  postEntries,
  readEntries,
  showProblem,
  type ReadEntry,
  type ShownProblem,
} from "./entries";

/** A journal of an earlier load that says the same. */
export interface LoadedBefore {
  id: number;
  /** Its number, or "a draft". */
  number: string;
  by: string;
  at: string;
}

export interface LoadedJournal {
  key: string;
  /** Where it is now; null where it was only checked, or left because of its problems. */
  id: number | null;
  number: string | null;
  status: "checked" | "left" | "draft" | "waiting" | "posted";
  description: string;
  debits: Minor;
  credits: Minor;
  currency: string;
  /** The rate that it was converted at, and how it was found; null in the functional currency. */
  rate: string | null;
  problems: ShownProblem[];
  /** Who has to approve it; null where nobody has to. */
  approval: string | null;
  /** What came in before and says the same; it is taken in again only where that is confirmed. */
  before: LoadedBefore | null;
}
export interface LoadResult {
  journals: LoadedJournal[];
  /** What is asked for came to, by company and balancing value. */
  balances: LoadBalance[];
}

export const LOAD_MODES = ["check", "draft", "submit", "post"] as const;

const schema = object({
  mode: string().oneOf(LOAD_MODES).required(),
  /** All journals are meant to be there twice, where they were loaded before. */
  confirmed: boolean().default(false),
  source: string().default("").max(200),
  journals: array(
    object({
      key: string().default("").max(200),
      input: journalInputSchema.required(),
      /** This journal is meant to be there twice. */
      again: boolean().default(false),
    }),
  )
    .required()
    .min(1, "There is no journal to load")
    .max(20_000),
});

/**
 * What makes two journals the same: date, currency, reference and lines, in whatever way they were
 * written. The description of the whole is often typed on the page and tells nothing.
 */
const contentHash = ({ description: _description, ...entry }: JournalEntry): string =>
  sha256(JSON.stringify(entry, (_k, v: unknown) => (typeof v === "bigint" ? String(v) : v)));

/** For each hash, the last journal that came in with it and is still there. */
async function loadedBefore(
  { tx }: Context,
  hashes: readonly string[],
): Promise<Map<string, LoadedBefore>> {
  const found = await rows<Omit<LoadedBefore, "id"> & { id: bigint; hash: string }>(
    tx,
    sql`select distinct on (j.hash) j.hash, d.id, coalesce(d.number, 'a draft') as number,
      p.name as by, l.at
      from loaded_journal j
      join journal_load l on l.id = j.load_id
      join person p on p.id = l.person_id
      join document d on d.id = j.document_id
      where j.hash = any(${arrayOf([...new Set(hashes)])}::text[])
      order by j.hash, l.id desc`,
  );
  return new Map(
    found.map(({ hash, ...b }) => [
      hash,
      { ...b, id: Number(b.id), at: `${b.at.slice(0, 10)} ${b.at.slice(11, 16)}` },
    ]),
  );
}

/** Journals whose rows disagree cannot be kept: a draft has one date and one currency. */
const disagrees = (input: JournalInput): boolean => input.lines.some((l) => l.differs);

/**
 * Takes many journals in at once: checks them all with as many queries as one takes, then keeps
 * them as drafts, sends them for approval or posts them.
 * All or nothing per journal: one with problems is left and named, the others go. A journal that an
 * earlier load brought is left too, unless it is confirmed.
 */
export const loadJournals = defineUseCase({
  name: "loadJournals",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "load journals",
  of: "checked",
  schema,
  run: async (context, input): Promise<Result<LoadResult>> => {
    const inputs = input.journals.map((j) => j.input as JournalInput);
    const stranger = inputs.find((i) => !context.may("prepare.ledger", i.company));
    if (stranger)
      return fail({
        code: "FORBIDDEN",
        what: `prepare journals in ${stranger.company.slice(0, 20)}`,
      });
    if (input.mode === "post" && inputs.some((i) => !context.may("post.ledger", i.company)))
      return fail({ code: "FORBIDDEN", what: "post journals" });
    const unknown = inputs.find((i) => !context.masters.companyByCode.has(i.company));
    if (unknown)
      return fail({ code: "COMPANY_UNKNOWN", company: unknown.company, field: "company" });
    // Locked before it is asked what was loaded: two people with the same file come one after the
    // other.
    if (input.mode !== "check")
      await lockChains(context.tx, [...new Set(inputs.map((i) => i.company))]);

    const { entries } = await readEntries(context, inputs);
    const rules = await ruleFor(
      context,
      entries.map((e) => e.reading.entry),
    );
    const hashes = entries.map((e) => contentHash(e.reading.entry));
    const before = await loadedBefore(context, hashes);
    const journals = entries.map(
      ({ reading: { entry }, check: { problems } }, i): LoadedJournal => {
        const side = (s: "debit" | "credit") =>
          minor(entry.lines.reduce((sum, l) => (l.side === s ? sum + l.amount : sum), 0n));
        return {
          key: input.journals[i]!.key,
          id: null,
          number: null,
          status: input.mode === "check" ? "checked" : "left",
          description: entry.description,
          debits: side("debit"),
          credits: side("credit"),
          currency: entry.currency,
          rate: rateOf(entries[i]!),
          problems: problems.map(showProblem),
          approval: rules[i] ? whyOf(rules[i]) : null,
          before: before.get(hashes[i]!) ?? null,
        };
      },
    );
    const balances = loadBalances(
      entries.map((e) => e.reading.entry),
      context.masters,
    );
    if (input.mode === "check") return ok({ journals, balances });
    for (const [i, j] of journals.entries())
      if (j.before && !input.confirmed && !input.journals[i]!.again)
        j.problems.push(showProblem({ code: "LOADED_BEFORE", ...j.before }));
    const left = (i: number) =>
      journals[i]!.problems.some((p) => p.code === "LOADED_BEFORE") || disagrees(inputs[i]!);

    if (input.mode === "post") {
      const ready = journals.flatMap((j, i) => (j.problems.length === 0 && !j.approval ? [i] : []));
      for (const j of journals)
        if (j.problems.length === 0 && j.approval)
          j.problems.push(showProblem({ code: "APPROVAL_NEEDED", why: j.approval }));
      if (ready.length > 0) {
        const posted = await postEntries(
          context,
          ready.map((i) => inputs[i]!),
          [],
        );
        if (!posted.ok) return posted;
        ready.forEach((i, n) =>
          Object.assign(journals[i]!, {
            id: posted.value[n]!.id,
            number: posted.value[n]!.number,
            status: "posted",
          }),
        );
      }
    } else
      for (const [i, journal] of journals.entries()) {
        if (left(i)) continue;
        if (input.mode === "submit" && (journal.problems.length > 0 || !journal.approval)) continue;
        const { id } = await keepOne(DRAFTS, context, {
          content: inputs[i]!,
          prepared: entries[i]!,
        });
        Object.assign(journal, { id, status: "draft" });
        if (input.mode === "submit") {
          const sent = await submitDraft.definition.run(context, {
            id,
            version: 1,
            content: inputs[i]!,
          });
          if (!sent.ok) return sent;
          journal.status = "waiting";
        }
      }
    await recordLoad(context, input, journals, hashes);
    return ok({ journals, balances });
  },
});

const rateOf = ({ check }: ReadEntry): string | null => {
  const draft = check.drafts.find((d) => d.rate);
  return draft?.rate ? `${draft.rate.rate} (${draft.rate.how})` : null;
};

/** Notes which journals came in, so that the load is found again and the same one is noticed. */
async function recordLoad(
  context: Context,
  input: { mode: string; source: string },
  journals: readonly LoadedJournal[],
  hashes: readonly string[],
): Promise<void> {
  const taken = journals.flatMap((j, i) => (j.id === null ? [] : [{ ...j, hash: hashes[i]! }]));
  if (taken.length === 0) return;
  const [first] = await rows<{ companyId: number }>(
    context.tx,
    sql`select company_id as "companyId" from document where id = ${taken[0]!.id}`,
  );
  const companyId = first!.companyId;
  const [load] = await context.tx
    .insert(tables.journalLoad)
    .values({
      hash: sha256(hashes.join()),
      companyId,
      personId: context.person.id,
      at: context.now,
      journals: taken.length,
      mode: input.mode,
      source: input.source,
    })
    .returning({ id: tables.journalLoad.id });
  await context.tx.execute(
    sql`insert into loaded_journal (document_id, load_id, key, hash)
      select x.document_id, ${load!.id}, x.key, x.hash
      from unnest(${arrayOf(taken.map((t) => t.id))}::bigint[],
        ${arrayOf(taken.map((t) => t.key))}::text[],
        ${arrayOf(taken.map((t) => t.hash))}::text[]) as x(document_id, key, hash)`,
  );
  await context.audit({
    action:
      input.mode === "post"
        ? "loaded and posted"
        : input.mode === "submit"
          ? "loaded for approval"
          : "loaded as drafts",
    kind: "load",
    recordId: String(load!.id),
    label: `${taken.length} of ${journals.length} journals${input.source ? `, ${input.source}` : ""}`,
    companyId,
    after: { journals: taken.slice(0, 500).map((j) => j.number ?? j.id) },
  });
}

export interface LoadedCells extends LoadResult {
  /** For each journal, the rows of the file (from 1) that are its lines. */
  rows: number[][];
  blank: number;
  /** Rows that are no lines of a journal, by their number in the file (from 1). */
  aside: { row: number; why: WhyAside }[];
  /** How the table was read where it could be read otherwise. */
  notes: string[];
}

/**
 * The way of a program: a table with headings, read and loaded in one step. Errors: INVALID where
 * no row holds headings and the columns cannot be told by their values.
 */
export async function loadCells(
  caller: Caller,
  { cells, notes }: { cells: readonly (readonly string[])[]; notes: readonly string[] },
  common: LoadCommon,
  { mode, confirmed, source }: { mode: string; confirmed: boolean; source: string },
): Promise<Result<LoadedCells>> {
  const found = await loadBasis(caller, { company: common.company });
  if (!found.ok) return found;
  const { currency, dimensions } = found.value;
  const at = findHeadings(cells, dimensions);
  const body = cells.slice(at + 1);
  const given = at < 0 ? [] : readHeadings(cells[at]!, dimensions);
  const codes = codesOf(found.value);
  const { fields, open } =
    at < 0
      ? recogniseColumns(body, given, codes)
      : { fields: recogniseUnderHeadings(body, given, codes), open: [] };
  if (open.length > 0 || !fields.includes("account"))
    return fail({
      code: "INVALID",
      what: "No row holds headings such as account, debit and credit, and the columns cannot be told by their values",
    });
  const understanding = understand(body, fields);
  const loaded = tableToRows(body, fields, currency, understanding);
  const journals = rowsToJournals(loaded.rows, common);
  const rowOf = (place: number) => place + at + 2;
  const result = await loadJournals(caller, {
    mode,
    confirmed,
    source,
    journals: journals.map(({ key, input }) => ({ key, input })),
  });
  if (!result.ok) return result;
  return ok({
    ...result.value,
    rows: journals.map((j) => j.rows.map((r) => rowOf(loaded.places[r]!))),
    blank: loaded.blank,
    aside: loaded.aside.map(({ place, why }) => ({ row: rowOf(place), why })),
    notes: [...notes, ...doubtsOf(understanding)],
  });
}

export interface LoadBasis {
  currency: string;
  dimensions: { code: string; name: string; values: string[] }[];
  accounts: string[];
  companies: string[];
}

const codesOf = (basis: LoadBasis): KnownCodes => ({
  accounts: new Set(basis.accounts),
  companies: new Set(basis.companies),
  values: new Map(basis.dimensions.map((d) => [d.code, new Set(d.values)])),
});

const loadBasis = defineUseCase({
  name: "loadBasis",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "load journals",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ masters }, input): Promise<Result<LoadBasis>> => {
    const company = masters.companyByCode.get(input.company);
    return company
      ? ok({
          currency: company.currency,
          dimensions: masters.dimensions.map(({ code, name, id }) => ({
            code,
            name,
            values: [...masters.valueById.values()].flatMap((v) =>
              v.dimensionId === id ? [v.code] : [],
            ),
          })),
          accounts: [...masters.accountByNumber.keys()],
          companies: [...masters.companyByCode.keys()],
        })
      : fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  },
});
