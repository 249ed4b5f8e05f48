import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import { fail, ok } from "@/core/shared";
import { lockChains, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { askForJob, defineJobKind } from "../../jobs";
import { postRun, proposeRun } from "../../runs";

/**
 * Asks for what is certain of the statements of these accounts to be posted, where their accounts are
 * set up so. It follows the matching of the company, which may be a job itself.
 */
export async function askForPosting(
  context: Context,
  statements: readonly { bank: number; upTo: string }[],
): Promise<void> {
  const own = await rows<{ id: number; code: string; company: string }>(
    context.tx,
    sql`select b.id, b.code, c.code as company from bank_account b
      join company c on c.id = b.company_id
      where b.id = any(${arrayOf(statements.map((s) => s.bank))}::int[]) and b.posts_certain
      order by c.code, b.code`,
  );
  for (const company of new Set(own.map((o) => o.company))) {
    if (!context.may("post.banks", company)) continue;
    const accounts = own
      .filter((o) => o.company === company)
      .map(({ id, code }) => ({
        bank: code,
        upTo: statements
          .flatMap((s) => (s.bank === id ? [s.upTo] : []))
          .sort()
          .at(-1)!,
      }));
    await askForJob(context, {
      kind: "post-certain",
      company,
      title: `Certain lines of ${accounts.map((a) => a.bank).join(", ")}`,
      page: "/banks/lines",
      params: { company, accounts },
      // Not beside the matching, and behind it.
      alone: `match ${company}`,
    });
  }
}

/**
 * Posts what is certain of accounts, each as a run of its own, as whoever took the file in. What
 * stands in the way is said, and the lines stay certain: a rule that wants a second person, a period
 * that is closed.
 */
export const postCertainJob = defineJobKind({
  id: "post-certain",
  schema: object({
    company: string().required(),
    accounts: array(
      object({ bank: string().required(), upTo: string().required() }).required(),
    ).required(),
  }),
  async work({ params: { company, accounts }, step }) {
    for (const account of accounts) {
      const posted = await step(async (context) => {
        await lockChains(context.tx, [company]);
        const run = await proposeRun.definition.run(context, {
          kind: "bank-lines",
          params: { company, ...account, only: "certain" },
        });
        // Nothing of it is certain, or an attempt before has posted it.
        if (!run.ok) return run.problems.every((p) => p.code === "NOT_FOUND") ? ok({}) : run;
        if (!context.may("post.banks", company))
          return fail({ code: "FORBIDDEN", what: `post bank lines of ${company}` });
        const { id } = run.value as { id: number };
        return postRun.definition.run(context, { key: String(id) });
      });
      if (!posted.ok) return posted;
    }
    return ok({});
  },
  /** Each account is posted whole or not at all. */
  over: () => Promise.resolve(),
});
