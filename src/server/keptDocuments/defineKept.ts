import { boolean, number, object } from "yup";
import { ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type UseCase } from "../access";
import type { Approve } from "../approvals";
import { AS_KEPT } from "../documents";
import { removeOne, saveOne, submitOne } from "./acts";
import { guard } from "./guard";
import type { Kept, KeptKind, Saved, Sent, Written } from "./kind";

export interface KeptUseCases<K, R> {
  save: UseCase<Saved<K>>;
  /** Posts what is on the screen. */
  post: UseCase<R>;
  /** Sends it to whoever approves it. */
  submit: UseCase<{ id: number; number: string; note?: string }>;
  remove: UseCase<object>;
  approve: Approve;
}

/** Makes the use cases of a kind, and what approving one means. */
export function defineKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
): KeptUseCases<K, R> {
  const { names, rights } = kind;
  const sent = {
    id: number().integer().required(),
    version: number().integer().required(),
    content: kind.schema.required(),
  };
  const save = defineUseCase({
    name: names.save,
    kind: "write",
    rights: [rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => companyIn(i),
    schema: object({
      ...sent,
      id: number().integer(),
      version: number().integer().default(0),
      overwrite: boolean().default(false),
      ...kind.more,
    }),
    run: (context, input) => saveOne(kind, context, input as never),
  });
  const post = defineUseCase({
    name: names.post,
    kind: "write",
    rights: [rights.post],
    what: kind.posting,
    company: (i) => companyIn(i),
    ...(kind.reachesLedger
      ? { locks: ({ tx }, input) => companiesOf(tx, [input.id], input.content as never) }
      : {}),
    schema: object(sent),
    run: async (context, input): Promise<Result<R>> => {
      const { id, content } = input as unknown as Sent<C>;
      const stored = await guard(kind, context, id, input as never, "post");
      return stored.ok
        ? kind.post(context, content, { id, stored: stored.value, asKept: false })
        : stored;
    },
  });
  const submit = defineUseCase({
    name: names.submit,
    kind: "write",
    rights: [rights.prepare],
    what: `send ${kind.many} for approval`,
    company: (i) => companyIn(i),
    schema: object(sent),
    run: (context, input) => submitOne(kind, context, input as never),
  });
  const remove = defineUseCase({
    name: names.remove,
    kind: "write",
    rights: [rights.prepare],
    what: `delete drafts of ${kind.many}`,
    of: "checked",
    schema: object({ id: number().integer().required() }),
    run: (context, { id }) => removeOne(kind, context, id),
  });
  return { save, post, submit, remove, approve: kind.approve };
}

const companyIn = (input: unknown): string => (input as { content: Written }).content.company;

/** Says what stands against one without keeping it. */
export function defineCheck<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<K> {
  return defineUseCase({
    name,
    kind: "read",
    rights: [kind.rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => (i as unknown as Written).company,
    schema: kind.schema,
    run: async (context, input): Promise<Result<K>> => {
      const content = input as unknown as C;
      const prepared = await kind.prepare(context, content, NEW);
      return prepared.ok ? ok(await kind.check(context, content, prepared.value)) : prepared;
    },
  });
}

/** Posts what is kept, as it is. */
export function definePostKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<R> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.post],
    what: kind.posting,
    of: "checked",
    ...(kind.reachesLedger ? { locks: ({ tx }, input) => companiesOf(tx, [input.id]) } : {}),
    schema: object({ id: number().integer().required() }),
    run: async (context, { id }): Promise<Result<R>> => {
      const stored = await guard(kind, context, id, AS_KEPT, "post");
      if (!stored.ok) return stored;
      const { content } = stored.value;
      return kind.post(context, content, { id, stored: stored.value, asKept: true });
    },
  });
}

const NEW = { id: undefined, stored: null, input: {} };
