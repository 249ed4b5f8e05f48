import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { scorePolicySchema, usualPolicy, type ScorePolicy } from "@/core/receivables";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows, type Db } from "../../db";

export interface GroupPolicy {
  code: string;
  name: string;
  policy: ScorePolicy;
  /** Whether it has a policy of its own. */
  own: boolean;
  version: number;
}

export const readGroups = async (tx: Db): Promise<GroupPolicy[]> =>
  (
    await rows<{ code: string; name: string; policy: ScorePolicy | null; version: number }>(
      tx,
      sql`select code, name, policy, version from customer_group order by code`,
    )
  ).map((g) => ({
    ...g,
    own: g.policy !== null,
    policy: g.policy ? scorePolicySchema.cast(g.policy) : usualPolicy(),
  }));

/** The policy by which a customer of a group is ranked. */
export async function policiesByGroup({ tx }: Context): Promise<(group: string) => ScorePolicy> {
  const byCode = new Map((await readGroups(tx)).map((g) => [g.code, g.policy]));
  const usual = usualPolicy();
  return (group) => byCode.get(group) ?? usual;
}

export const customerGroups = defineUseCase({
  name: "customerGroups",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see groups of customers",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readGroups(tx)),
});

/** A group of customers, and how they are ranked. */
export const saveCustomerGroup = defineUseCase({
  name: "saveCustomerGroup",
  kind: "write",
  rights: ["setup.rules"],
  what: "set up groups of customers",
  of: "group",
  schema: object({
    code: string()
      .trim()
      .uppercase()
      .required("A code is needed")
      .matches(/^[A-Z0-9-]{1,20}$/, "A code has capitals, figures and dashes"),
    name: string().trim().required("A name is needed").max(80),
    policy: scorePolicySchema.nullable().default(null),
  }),
  run: async ({ tx, audit }, input): Promise<Result<object>> => {
    const before = (await readGroups(tx)).find((g) => g.code === input.code);
    if (input.policy && Object.values(pointsOf(input.policy)).every((p) => p === 0))
      return fail({ code: "INVALID", what: "At least one part has points", field: "late" });
    await tx.execute(
      sql`insert into customer_group (code, name, policy) values (${input.code}, ${input.name},
        ${input.policy ? JSON.stringify(input.policy) : null}::jsonb)
        on conflict (code) do update set name = excluded.name, policy = excluded.policy,
          version = customer_group.version + 1`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "customer group",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});

const pointsOf = ({
  late,
  amount,
  broken,
  grade,
  limit,
  silent,
  soon,
  solved,
  trend,
}: ScorePolicy) => ({
  late,
  amount,
  broken,
  grade,
  limit,
  silent,
  soon,
  solved,
  trend,
});
