import { sql } from "drizzle-orm";
import type { Context } from "../access";
import { rows } from "../db";

/**
 * Keeps a file of a run that goes to a bank, as it was made. It is known by the number of the run;
 * what is made again of it has a number behind that.
 */
export async function keepBankFile(
  { tx, person, now }: Context,
  run: { id: number; number: string },
  write: (messageId: string) => string,
): Promise<{ id: number; name: string }> {
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from payment_file where run_id = ${run.id}`,
  );
  const messageId = `${run.number}${count!.n === 0 ? "" : `-${count!.n + 1}`}`;
  const name = `${messageId}.xml`;
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into payment_file (run_id, message_id, name, content, made_by, made_at)
      values (${run.id}, ${messageId}, ${name}, ${write(messageId)}, ${person.id},
        ${now.toISOString()}) returning id`,
  );
  return { id: Number(made!.id), name };
}

/** When a file is made, in the clock of the books: so it is never made after the day it is for. */
export const fileMadeAt = ({ today, now }: Context): string =>
  `${today}${now.toISOString().slice(10)}`;
