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

/** Makes the use cases of a kind that is posted as it stands on the screen. */
export function defineKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  names: { save: string; post: string; submit: string; remove: string },
): KeptUseCases<K, R> {
  const sent = { ...seen, content: kind.schema.required() };
  const post = defineUseCase({
    name: names.post,
    kind: "write",
    rights: [kind.rights.post],
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
        ? kind.post(context, content, { id, stored: stored.value, asKept: false, input })
        : stored;
    },
  });
  const submit = defineUseCase({
    name: names.submit,
    kind: "write",
    rights: [kind.rights.prepare],
    what: `send ${kind.many} for approval`,
    company: (i) => companyIn(i),
    schema: object(sent),
    run: (context, input) => submitOne(kind, context, input as never),
  });
  return {
    save: defineSave(kind, names.save),
    post,
    submit,
    remove: defineRemove(kind, names.remove),
    approve: kind.approve,
  };
}

/** What was seen when it was decided on. */
const seen = {
  id: number().integer().required(),
  version: number().integer().required(),
};
const companyIn = (input: unknown): string => (input as { content: Written }).content.company;

/** Keeps what was typed. */
export function defineSave<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<Saved<K>> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.prepare],
    what: `prepare ${kind.many}`,
    company: (i) => companyIn(i),
    schema: object({
      id: number().integer(),
      version: number().integer().default(0),
      content: kind.schema.required(),
      overwrite: boolean().default(false),
      ...kind.more,
    }),
    run: (context, input) => saveOne(kind, context, input as never),
  });
}

/** Deletes a draft. */
export function defineRemove<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<object> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.prepare],
    what: `delete drafts of ${kind.many}`,
    of: "checked",
    schema: object(seen),
    run: (context, input) => removeOne(kind, context, input),
  });
}

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
    schema: object({ id: number().integer().required(), ...kind.deciding }),
    run: async (context, input): Promise<Result<R>> => {
      const { id } = input as { id: number };
      const stored = await guard(kind, context, id, AS_KEPT, "post");
      if (!stored.ok) return stored;
      const { content } = stored.value;
      return kind.post(context, content, { id, stored: stored.value, asKept: true, input });
    },
  });
}

/** Sends what is kept, as it is, to whoever approves it. */
export function defineSubmitKept<C extends Written, S extends Kept<C>, P, K extends object, R>(
  kind: KeptKind<C, S, P, K, R>,
  name: string,
): UseCase<{ id: number; number: string; note?: string }> {
  return defineUseCase({
    name,
    kind: "write",
    rights: [kind.rights.prepare],
    what: `send ${kind.many} for approval`,
    of: "checked",
    schema: object({ id: number().integer().required(), ...kind.deciding }),
    run: (context, input) => submitOne(kind, context, { ...(input as { id: number }), ...AS_KEPT }),
  });
}

const NEW = { id: undefined, stored: null, input: {} };
