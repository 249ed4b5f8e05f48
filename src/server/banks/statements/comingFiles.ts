import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { openBatches } from "@/core/banks/statements";
import type { TableReading } from "@/core/banks/statements/table";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { insertAll, rows, schema } from "../../db";
import { readStatementFile } from "../../files";
import { askForJob, defineJobKind } from "../../jobs";
import { comingRow } from "./lineRow";
import type { Placed } from "./placeStatements";
import { placeFile, takeIn, type Imported, type SentFile, type StoreLines } from "./takeIn";

/** So many lines are stored with the request that brings them; more by a job. */
export const STORED_AT_ONCE = 5_000;
/** Lines that a job stores in one transaction. */
const PART = 5_000;

/** Notes a large file, which was found to be in order, for the job that takes it in. */
export async function comeByJob(
  context: Context,
  file: SentFile & { content: string },
  { format, placed, lines }: { format: string; placed: readonly Placed[]; lines: number },
): Promise<Result<Imported>> {
  const { tx, person, now } = context;
  const [coming] = await rows<{ id: bigint }>(
    tx,
    sql`insert into coming_file (name, digest, content, bank, reading, opening, by_folder, made_by,
        made_at)
      values (${file.name}, ${file.digest}, ${file.content}, ${file.bank},
        ${file.reading === null ? null : JSON.stringify(file.reading)}::jsonb, ${file.opening},
        ${file.byFolder}, ${person.id}, ${now.toISOString()})
      on conflict (digest) do nothing returning id`,
  );
  if (!coming)
    return fail({ code: "INVALID", what: "The same file is being taken in at this moment" });
  const { account } = placed[0]!;
  await askForJob(context, {
    kind: "take-statements",
    company: account.company,
    title: `${file.name}, ${lines} lines`,
    page: "/banks/statements",
    params: { file: Number(coming.id) },
    alone: `match ${account.company}`,
    total: lines,
  });
  return ok({
    file: 0,
    format,
    statements: [],
    lines,
    known: 0,
    notices: 0,
    opened: 0,
    certain: null,
    rejected: 0,
    isComing: true,
  });
}

interface Coming extends SentFile {
  content: string;
}

const readComing = async ({ tx }: Context, id: number): Promise<Coming | undefined> =>
  (
    await rows<Omit<Coming, "reading"> & { reading: TableReading | null }>(
      tx,
      sql`select name, digest, content, bank, reading, opening, by_folder as "byFolder"
        from coming_file where id = ${id}`,
    )
  )[0];

const forget = async ({ tx }: Context, id: number): Promise<void> => {
  await tx.execute(sql`delete from coming_line where file_id = ${id}`);
  await tx.execute(sql`delete from coming_file where id = ${id}`);
};

/**
 * Takes a large file in: its lines are stored part by part where nobody sees them, others are answered
 * in between, and it can be stopped; in the last step all of it is taken in, as whoever sent it. What
 * stands against it then is said, and nothing of it stays.
 */
export const takeStatementsJob = defineJobKind({
  id: "take-statements",
  schema: object({ file: number().integer().required() }),
  async work({ params: { file: id }, step }) {
    const begun = await step(async (context) => {
      // What an attempt before has stored is stored anew.
      await context.tx.execute(sql`delete from coming_line where file_id = ${id}`);
      return ok((await readComing(context, id)) ?? null);
    });
    if (!begun.ok) return begun;
    const file = begun.value;
    // An attempt before has taken it in.
    if (file === null) return ok({});
    // It was read within its limits before; here it is read again on the thread of jobs.
    const found = await readStatementFile(file.name, Buffer.from(file.content, "base64"));
    if (!found.ok) return found;
    const read = found.value;
    const first = await step((context) => placeFile(context, file, read));
    if (!first.ok) return first;
    const { placed } = first.value;
    let done = 0;
    for (const [n, { statement: of, account }] of placed.entries()) {
      const place = { statementId: n, companyId: account.companyId, bankAccountId: account.id };
      const lines = openBatches(of.lines);
      for (let at = 0; at < lines.length; at += PART) {
        const part = lines.slice(at, at + PART);
        const stored = await step(async ({ tx }) => {
          await insertAll(
            tx,
            schema.comingLine,
            part.map((l, i) => comingRow(id, { ...place, position: at + i }, l)),
          );
          done += part.length;
          return ok({ done });
        });
        if (!stored.ok) return stored;
      }
    }
    return step(async (context) => {
      const again = await placeFile(context, file, read);
      if (!again.ok) return again;
      // Of a table, what goes on behind the last statement depends on that.
      if (!isSame(placed, again.value.placed))
        return fail({
          code: "INVALID",
          what: "Another statement of the account has come in meanwhile; send the file again",
        });
      const taken = await takeIn(context, file, again.value, moveLines(id));
      if (!taken.ok) return taken;
      await forget(context, id);
      return taken;
    });
  },
  over: (context, { file }) => forget(context, file),
});

const isSame = (before: readonly Placed[], now: readonly Placed[]): boolean =>
  before.length === now.length &&
  before.every(
    ({ statement: s }, i) =>
      s.lines.length === now[i]!.statement.lines.length &&
      s.number === now[i]!.statement.number &&
      s.opening.amount === now[i]!.statement.opening.amount &&
      s.closing.amount === now[i]!.statement.closing.amount,
  );

const MOVEMENT = sql.raw(
  "position, booked, valued, amount, takes_back, code, party_name, party_account, party_bic, end_to_end, creditor_reference, mandate, cheque, bank_reference, text, return_reason, details, batch, from_line, to_line",
);

/** The lines of a statement that are stored already become its own. */
const moveLines =
  (file: number): StoreLines =>
  async ({ tx }, id, { account }, n) => {
    await tx.execute(
      sql`insert into statement_line (statement_id, company_id, bank_account_id, ${MOVEMENT})
        select ${id}, ${account.companyId}, ${account.id}, ${MOVEMENT} from coming_line
        where file_id = ${file} and statement_id = ${n} order by position`,
    );
  };
