import { sql } from "drizzle-orm";
import { array, boolean, object, string } from "yup";
import {
  findHeadings,
  journalInputSchema,
  readHeadings,
  rowsToJournals,
  tableToRows,
  understand,
  type JournalInput,
  type LoadCommon,
} from "@/core/ledger";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows, sha256 } from "../db";
import { defineUseCase, type Caller, type Context } from "../access";
import { ruleFor, whyOf } from "./approvalRules";
import { submitDraft } from "./approvals";
import { keepDraft, postEntries, readEntries, showProblem, type ShownProblem } from "./drafts";

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
  problems: ShownProblem[];
  /** Who has to approve it; null where nobody has to. */
  approval: string | null;
}
export interface LoadResult {
  journals: LoadedJournal[];
  /** Who loaded the same content before. */
  before: { by: string; at: string; journals: number } | null;
}

export const LOAD_MODES = ["check", "draft", "submit", "post"] as const;

const schema = object({
  mode: string().oneOf(LOAD_MODES).required(),
  confirmed: boolean().default(false),
  journals: array(
    object({ key: string().default("").max(200), input: journalInputSchema.required() }),
  )
    .required()
    .min(1, "There is no journal to load")
    .max(20_000),
});

async function loadedBefore({ tx }: Context, hash: string): Promise<LoadResult["before"]> {
  const [row] = await rows<{ by: string; at: string; journals: number }>(
    tx,
    sql`select p.name as by, l.at, l.journals from journal_load l
      join person p on p.id = l.person_id where l.hash = ${hash} order by l.id desc limit 1`,
  );
  return row ? { ...row, at: `${row.at.slice(0, 10)} ${row.at.slice(11, 16)}` } : null;
}

/**
 * Takes many journals in at once: checks them all with as many queries as one takes, then keeps
 * them as drafts, sends them for approval or posts them.
 * All or nothing per journal: one with problems is left and named, the others go. The same content
 * again has to be confirmed.
 */
export const loadJournals = defineUseCase({
  name: "loadJournals",
  kind: "write",
  rights: ["prepare.ledger"],
  what: "load journals",
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
    const hash = sha256(JSON.stringify(inputs));
    const before = await loadedBefore(context, hash);
    if (before && input.mode !== "check" && !input.confirmed)
      return fail({ code: "LOADED_BEFORE", ...before });

    const { entries } = await readEntries(context, inputs);
    const rules = await ruleFor(
      context,
      entries.map((e) => e.reading.entry),
    );
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
          problems: problems.map(showProblem),
          approval: rules[i] ? whyOf(rules[i]) : null,
        };
      },
    );
    if (input.mode === "check") return ok({ journals, before });

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
        if (input.mode === "submit" && (journal.problems.length > 0 || !journal.approval)) continue;
        const id = await keepDraft(context, inputs[i]!);
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
    const taken = journals.filter((j) => j.id !== null).length;
    if (taken > 0) {
      const companyId = context.masters.companyByCode.get(inputs[0]!.company)!.id;
      await context.tx.execute(
        sql`insert into journal_load (hash, company_id, person_id, at, journals, mode)
          values (${hash}, ${companyId}, ${context.person.id}, ${context.now.toISOString()},
          ${taken}, ${input.mode})`,
      );
      await context.audit({
        action:
          input.mode === "post"
            ? "loaded and posted"
            : input.mode === "submit"
              ? "loaded for approval"
              : "loaded as drafts",
        kind: "load",
        recordId: hash.slice(0, 16),
        label: `${taken} of ${journals.length} journals`,
        companyId,
        after: { journals: journals.slice(0, 500).map((j) => j.number ?? j.id) },
      });
    }
    return ok({ journals, before });
  },
});

/**
 * The way of a program: a table with headings, read and loaded in one step. Errors: INVALID where
 * no row holds headings.
 */
export async function loadCells(
  caller: Caller,
  cells: readonly (readonly string[])[],
  common: LoadCommon,
  mode: string,
  confirmed: boolean,
): Promise<Result<{ blank: number; withoutAmount: number; result: LoadResult }>> {
  const found = await chartAndDimensions(caller, { company: common.company });
  if (!found.ok) return found;
  const at = findHeadings(cells, found.value.dimensions);
  if (at < 0)
    return fail({
      code: "INVALID",
      what: "No row holds headings such as account, debit and credit",
    });
  const fields = readHeadings(cells[at]!, found.value.dimensions);
  const body = cells.slice(at + 1);
  const loaded = tableToRows(body, fields, found.value.currency, understand(body, fields));
  const journals = rowsToJournals(loaded.rows, common).map(({ key, input }) => ({ key, input }));
  const result = await loadJournals(caller, { mode, confirmed, journals });
  return result.ok
    ? ok({ blank: loaded.blank, withoutAmount: loaded.withoutAmount, result: result.value })
    : result;
}

const chartAndDimensions = defineUseCase({
  name: "loadBasis",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "load journals",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ masters }, input) => {
    const company = masters.companyByCode.get(input.company);
    return company
      ? ok({
          currency: company.currency,
          dimensions: masters.dimensions.map(({ code, name }) => ({ code, name })),
        })
      : fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  },
});
