// Each request's way of writing figures and days, for whatever is drawn while it is answered: pages
// are drawn in places that know of no request (src/ui/writing.ts).
import { AsyncLocalStorage } from "node:async_hooks";

const asked = new AsyncLocalStorage();
globalThis[Symbol.for("yellow-anchor.writing")] = () => asked.getStore();

/** Answers a request in the way of writing that its cookie names. */
export const inItsWriting = (request, answer) =>
  asked.run(/(?:^|;\s*)writing=([\w.]{1,40})/.exec(request.headers.cookie ?? "")?.[1], answer);
