import path from "node:path";
import { pathToFileURL } from "node:url";
import { Worker, type WorkerOptions } from "node:worker_threads";

/**
 * Whether the built application runs. There each thread's program lies beside it, and is found by
 * `new Worker(new URL("./program.ts", import.meta.url), { … })` with the options written out in that
 * place: the build knows it by this form alone.
 */
export const isBuilt = (): boolean => process.env.NEXT_RUNTIME === "nodejs";

/** A thread where the sources themselves run (tests, programs): it reads TypeScript too. */
export function threadFromSources(program: string, options: WorkerOptions): Worker {
  const file = path.join(process.cwd(), "src", "server", program);
  const runner = path.join(process.cwd(), "scripts", "fromSources.mjs");
  const start = `import(${JSON.stringify(pathToFileURL(runner).href)})
    .then((runner) => runner.runFromSources(${JSON.stringify(file)}))`;
  return new Worker(start, { ...options, eval: true });
}
