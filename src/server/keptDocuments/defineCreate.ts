import { boolean, type AnySchema } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context, type UseCase } from "../access";
import type { Kept, KeptKind, Written } from "./kind";
import { keepOne } from "./store";

/** What became of a document that a program brought. */
export interface Created {
  id: number;
  /** What it was given when it was posted. */
  number: string | null;
  status: string;
}
interface Ways<R, E> {
  /** Whether it is posted where the program does not say. */
  posts: boolean;
  /** Whether a draft is kept whatever is wrong with it, or refused. */
  faulty: "kept" | "refused";
  /** What became of one that was posted. */
  posted(result: R): Created & E;
}
/** Also what stands against a draft, and what the kind says of one that was posted. */
type Answer<K extends Checked, E> = Created & Partial<E> & { problems?: K["problems"] };
interface Checked {
  problems: readonly unknown[];
}

/**
 * Makes the use case by which a program brings a document of the kind: posted at once, or kept as a
 * draft with what stands against it. One that is to be posted and can't be is not kept.
 */
export function defineCreate<
  C extends Written,
  S extends Kept<C>,
  P,
  K extends Checked,
  R,
  E extends object,
>(kind: KeptKind<C, S, P, K, R>, name: string, ways: Ways<R, E>): UseCase<Answer<K, E>> {
  const asDraft = async (
    id: number,
    context: Context,
    content: C,
    prepared: P,
  ): Promise<Answer<K, E>> => {
    const draft = { id, number: null, status: "draft" };
    if (ways.faulty === "refused") return draft as Answer<K, E>;
    const { problems } = await kind.check(context, content, prepared);
    return { ...draft, problems } as Answer<K, E>;
  };
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => (i as unknown as Written).company,
    ...(kind.reachesLedger
      ? { locks: ({ tx }, input) => companiesOf(tx, [], input as never) }
      : {}),
    schema: kind.schema.shape({ post: boolean().default(ways.posts) }) as unknown as AnySchema,
    run: async (context, input): Promise<Result<Answer<K, E>>> => {
      const { post: wanted, ...raw } = input as unknown as C & { post: boolean };
      const written = raw as unknown as C;
      const content = (await kind.complete?.(context, written)) ?? written;
      if (wanted && !context.may(kind.rights.post, content.company))
        return fail({ code: "FORBIDDEN", what: `${kind.posting} of ${content.company}` });
      if (wanted && kind.postNew) {
        const posted = await kind.postNew(context, content);
        return posted.ok ? ok(ways.posted(posted.value)) : posted;
      }
      const prepared = await kind.prepare(context, content, { id: undefined, stored: null, input });
      if (!prepared.ok) return prepared;
      // Who may not post it may prepare it all the same.
      const [first, ...others] = kind
        .problems(prepared.value)
        .filter((p) => wanted || p.code !== "FORBIDDEN");
      if (first && (wanted || ways.faulty === "refused")) return fail(first, ...others);
      const { id } = await keepOne(kind, context, { content, prepared: prepared.value });
      if (!wanted) return ok(await asDraft(id, context, content, prepared.value));
      const stored = (await kind.read(context, id))!;
      const about = { id, stored, asKept: true, justKept: true, input };
      const posted = await kind.post(context, content, about);
      return posted.ok ? ok(ways.posted(posted.value)) : posted;
    },
  });
}
