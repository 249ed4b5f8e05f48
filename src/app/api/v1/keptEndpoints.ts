import { number, object, type AnySchema } from "yup";
import type { UseCase } from "@/server/access";
import { idIn, map, type Endpoint } from "./endpoint";

interface Posted {
  id: number;
  number: string;
  held?: string[];
}
interface KeptPart<R extends Posted> {
  /** Its address, and what the part that names one is called in it. */
  path: string;
  key: "id" | "key";
  /** “a journal”, “an invoice”. */
  one: string;
  /** What is brought: the kind's own schema, with `post`. */
  body: AnySchema;
  create: UseCase<object>;
  /** The example of what creating one answers. */
  example: object;
  post: UseCase<R>;
  /** What is answered besides of one that was posted. */
  also?: (done: R) => object;
  /** How one stands that was posted. */
  posted: string;
  /** How posting is said: “post”, “place”. */
  verb?: string;
  /** Fields that come along when it is posted or sent. */
  deciding?: AnySchema;
  submit: UseCase<{ id: number; note?: string }>;
  remove: UseCase<object>;
}

/**
 * What programs can do with documents of a kind that is kept: bring one, post it, send it for
 * approval, delete its draft. The same for all kinds; reading and listing are each kind's own.
 */
export function keptEndpoints<R extends Posted>(part: KeptPart<R>): Endpoint[] {
  const { path, key, one, verb = "post" } = part;
  const at = `${path}/{${key}}`;
  const { id, number: given } = part.example as { id: number; number?: string };
  const decided = (named: string | undefined, body: unknown) => ({
    id: idIn(named),
    ...(body as object),
  });
  const deciding = part.deciding ? { body: part.deciding } : {};
  return [
    {
      method: "post",
      path,
      summary: `Enter ${one}: kept as a draft, or with post true ${verb === "post" ? "posted" : `${verb}d`} at once. One that is refused is not kept. An Idempotency-Key header makes a repeat harmless`,
      body: part.body,
      status: 201,
      example: part.example,
      handle: async ({ caller, body }) => part.create(caller, body),
    },
    {
      method: "post",
      path: `${at}/post`,
      summary: `${verb[0]!.toUpperCase()}${verb.slice(1)} a draft as it stands. Where something does not fit it is held, with the reasons, until a second person lets it pass`,
      ...deciding,
      example: { id, number: given ?? null, status: part.posted },
      handle: async ({ caller, path: named, body }) =>
        map(await part.post(caller, decided(named[key], body)), (done) =>
          done.held
            ? { id: done.id, number: null, status: "held", held: done.held }
            : { id: done.id, number: done.number, status: part.posted, ...part.also?.(done) },
        ),
    },
    {
      method: "post",
      path: `${at}/submit`,
      summary: "Send a draft as it stands to whoever approves it",
      ...deciding,
      example: { id, status: "waiting" },
      handle: async ({ caller, path: named, body }) =>
        map(await part.submit(caller, decided(named[key], body)), (sent) => ({
          id: sent.id,
          status: sent.note ? "held" : "waiting",
          ...(sent.note ? { note: sent.note } : {}),
        })),
    },
    {
      method: "post",
      path: `${at}/delete`,
      summary: "Delete a draft in the version that was read; its content stays in the history",
      body: object({ version: number().integer().required() }),
      example: {},
      handle: async ({ caller, path: named, body }) =>
        part.remove(caller, decided(named[key], body)),
    },
  ];
}
