import type { MessagePort } from "node:worker_threads";
import type { EmbeddedClient, Options, Rows, Speaker } from "./client";
import { errorOf, failureOf, type Failure } from "./failure";

type Asked =
  | { ask: "query"; tx: number | null; statement: string; parameters: unknown[]; options: Options }
  | { ask: "begin" }
  | { ask: "commit" | "rollback"; tx: number };
type Request = Asked & { no: number };
type Reply = { no: number } & ({ answer: Rows | null } | { failure: Failure });

interface Open {
  tx: Speaker;
  /** Ends the transaction. */
  end(how: "commit" | "rollback"): Promise<void>;
}

/** The transaction of another thread is to be undone. */
class RolledBack extends Error {}

/** Lets another thread use the embedded database by a port; what it leaves open is undone. */
export function serveClient(client: EmbeddedClient, port: MessagePort): () => void {
  const open = new Map<number, Open>();
  let gone = false;

  const begin = (no: number): Promise<null> =>
    new Promise((begun, notBegun) => {
      const over = client.transaction(
        (tx) =>
          new Promise<void>((commit, undo) => {
            // Whoever waited for this turn is no more: nobody would end it.
            if (gone) return undo(new RolledBack());
            const end = (how: "commit" | "rollback"): Promise<void> => {
              open.delete(no);
              if (how === "commit") commit();
              else undo(new RolledBack());
              return over.catch((error: unknown) => {
                if (!(error instanceof RolledBack)) throw error;
              });
            };
            open.set(no, { tx, end });
            begun(null);
          }),
      );
      over.catch(notBegun);
    });
  const perform = async (request: Request): Promise<Rows | null> => {
    if (request.ask === "begin") return begin(request.no);
    if (request.ask === "query") {
      const { tx, statement, parameters, options } = request;
      const speaker = tx === null ? client : open.get(tx);
      if (!speaker) throw new Error("The transaction has ended.");
      return ("tx" in speaker ? speaker.tx : speaker).query(statement, parameters, options);
    }
    await open.get(request.tx)?.end(request.ask);
    return null;
  };
  const answer = async (request: Request): Promise<void> => {
    let reply: Reply;
    try {
      reply = { no: request.no, answer: await perform(request) };
    } catch (error) {
      reply = { no: request.no, failure: failureOf(error) };
    }
    port.postMessage(reply);
  };
  port.on("message", (request: Request) => void answer(request));
  return () => {
    gone = true;
    port.close();
    for (const { end } of [...open.values()]) void end("rollback").catch(() => {});
  };
}

/** The embedded database of another thread, by the port that is served there. */
export class SharedClient implements Speaker {
  private readonly waiting = new Map<
    number,
    { done(rows: Rows | null): void; failed(error: Error): void }
  >();
  private last = 0;

  constructor(private readonly port: MessagePort) {
    port.on("message", (reply: Reply) => {
      const asked = this.waiting.get(reply.no);
      this.waiting.delete(reply.no);
      if ("failure" in reply) asked?.failed(errorOf(reply.failure));
      else asked?.done(reply.answer);
    });
  }

  query(statement: string, parameters: unknown[] = [], options: Options = {}): Promise<Rows> {
    return this.queryIn(null, statement, parameters, options);
  }

  async transaction<T>(work: (tx: Speaker) => Promise<T>): Promise<T> {
    const no = ++this.last;
    await this.ask({ ask: "begin" }, no);
    let result: T;
    try {
      result = await work({ query: (s, p = [], o = {}) => this.queryIn(no, s, p, o) });
    } catch (error) {
      await this.ask({ ask: "rollback", tx: no });
      throw error;
    }
    await this.ask({ ask: "commit", tx: no });
    return result;
  }

  close(): void {
    this.port.close();
  }

  private async queryIn(
    tx: number | null,
    statement: string,
    parameters: unknown[],
    { rowMode }: Options,
  ): Promise<Rows> {
    // What else the query builder says are functions, and does not travel.
    const options: Options = rowMode ? { rowMode } : {};
    return (await this.ask({ ask: "query", tx, statement, parameters, options }))!;
  }

  private ask(asked: Asked, no = ++this.last): Promise<Rows | null> {
    return new Promise((done, failed) => {
      this.waiting.set(no, { done, failed });
      this.port.postMessage({ ...asked, no });
    });
  }
}
