import { sql } from "drizzle-orm";
import type { Result } from "@/core/shared";
import { fail, ok } from "@/core/shared";
import type { Context } from "../access";
import { readSetting, rows, writeSetting, type Db } from "../db";

/** What is set for a group of customers; the group "" is everybody else. */
export interface GroupRule<T> {
  code: string;
  name: string;
  rule: T;
  /** Whether it was set, and is not just what is usual. */
  own: boolean;
}

/**
 * Something that is set for each group of customers: a group without a rule of its own has that of
 * everybody else, who have what is usual where nothing was set.
 */
export function groupRules<T>(of: {
  /** Where groups keep it. */
  column: "reminders" | "tolerance";
  /** What a change is called in the audit trail. */
  kind: string;
  /** Where that of everybody else is kept. */
  others: string;
  /** A kept rule as it is now: what was added since has its usual value. */
  cast: (kept: unknown) => T;
  usual: () => T;
}) {
  const column = sql.identifier(of.column);
  const all = async (tx: Db): Promise<GroupRule<T>[]> => {
    const groups = await rows<{ code: string; name: string; kept: unknown }>(
      tx,
      sql`select code, name, ${column} as kept from customer_group order by code`,
    );
    const others = await readSetting<unknown>(tx, of.others);
    return [{ code: "", name: "All other customers", kept: others ?? null }, ...groups].map(
      ({ code, name, kept }) => ({
        code,
        name,
        own: kept !== null,
        rule: kept === null ? of.usual() : of.cast(kept),
      }),
    );
  };
  return {
    all,
    /** The rule that holds for a group. */
    byGroup: async (tx: Db): Promise<(group: string) => T> => {
      const found = await all(tx);
      const own = new Map(found.filter((g) => g.own).map((g) => [g.code, g.rule]));
      const others = found[0]!.rule;
      return (group) => own.get(group) ?? others;
    },
    /** What holds for a group from now on; null: as for everybody else. */
    save: async ({ tx, audit }: Context, code: string, rule: T | null): Promise<Result<object>> => {
      const before = (await all(tx)).find((g) => g.code === code);
      if (!before) return fail({ code: "NOT_FOUND", what: `group of customers ${code}` });
      if (code === "") await writeSetting(tx, of.others, rule);
      else
        await tx.execute(
          sql`update customer_group set version = version + 1,
            ${column} = ${rule ? JSON.stringify(rule) : null}::jsonb where code = ${code}`,
        );
      await audit({
        action: "changed",
        kind: of.kind,
        recordId: code || "others",
        label: before.name,
        before: before.rule,
        after: rule,
      });
      return ok({});
    },
  };
}
