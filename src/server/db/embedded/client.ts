import type { Engine } from "./engine";

export interface Rows {
  rows: unknown[];
}
export interface Options {
  rowMode?: "array" | "object";
}

/** What the query builder asks of an open transaction, or of the database. */
export interface Speaker {
  query(statement: string, parameters?: unknown[], options?: Options): Promise<Rows>;
}

/**
 * The embedded database as the query builder knows it: statements alone run as they come, a
 * transaction has the database for itself until it ends.
 */
export class EmbeddedClient implements Speaker {
  /** Ends when everything that was asked before has been answered. */
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly engine: Engine) {}

  query(statement: string, parameters: unknown[] = [], options: Options = {}): Promise<Rows> {
    return this.alone(() => ask(this.engine, statement, parameters, options));
  }

  transaction<T>(work: (tx: Speaker) => Promise<T>): Promise<T> {
    const { engine } = this;
    return this.alone(async () => {
      const begun = engine.query("BEGIN", []);
      // Statements are answered in order: nobody waits for this answer before the next.
      begun.catch(() => {});
      const tx: Speaker = { query: (s, p = [], o = {}) => ask(engine, s, p, o) };
      let result: T;
      try {
        result = await work(tx);
        await begun;
      } catch (error) {
        // What the work failed with says more than a failure to roll back.
        await engine.query("ROLLBACK", []).catch(() => {});
        throw error;
      }
      await engine.query("COMMIT", []);
      return result;
    });
  }

  /** Waits for all that came before, and has the database for itself meanwhile. */
  alone<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.last.then(work);
    this.last = mine.catch(() => {});
    return mine;
  }
}

async function ask(
  engine: Engine,
  statement: string,
  parameters: unknown[],
  { rowMode }: Options,
): Promise<Rows> {
  const answer = await engine.query(statement, parameters);
  if (rowMode === "array") return { rows: answer.rows };
  return { rows: answer.rows.map((row) => objectOf(answer.columns, row)) };
}

function objectOf(columns: readonly string[], row: readonly unknown[]): Record<string, unknown> {
  const object: Record<string, unknown> = {};
  for (let i = 0; i < columns.length; i++) object[columns[i]!] = row[i];
  return object;
}
