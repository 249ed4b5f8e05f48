import { sql } from "drizzle-orm";
import { object } from "yup";
import {
  ASSET_FACTS,
  assetClassInput,
  readRule,
  type AssetClassInput,
  type AssetClass,
} from "@/core/assets";
import type { ControlKind, Masters } from "@/core/ledger";
import { fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { arrayOf } from "../../db";
import { loadClasses } from "./loadClasses";

export const listAssetClasses = defineUseCase({
  name: "listAssetClasses",
  kind: "read",
  rights: ["read.assets", "prepare.assets"],
  what: "see classes of assets",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<AssetClass[]>> =>
    ok((await loadClasses(tx)).map(({ id: _id, ...rest }) => rest)),
});

export const saveAssetClass = defineUseCase({
  name: "saveAssetClass",
  kind: "write",
  rights: ["prepare.assets", "setup.rules"],
  what: "change classes of assets",
  of: "group",
  schema: assetClassInput,
  run: async ({ tx, masters, audit }, raw): Promise<Result<object>> => {
    const input = raw as AssetClassInput;
    const classes = await loadClasses(tx);
    const problems = [
      ...againstAccounts(masters, input),
      ...againstParent(classes, input),
      ...againstNeeds(masters, input.needs),
      ...Object.keys(input.own).flatMap((book): Found[] =>
        masters.bookByCode.has(book)
          ? []
          : [{ code: "NOT_FOUND", what: `book ${book.slice(0, 40)}`, field: `own.${book}.method` }],
      ),
    ];
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    const kept: AssetClass = {
      code: input.code,
      name: input.name,
      parent: input.parent,
      accounts: {
        cost: input.cost,
        accumulated: input.accumulated,
        charge: input.charge,
        clearing: input.clearing,
        gain: input.gain,
        loss: input.loss,
      },
      rules: {
        common: readRule(input.common),
        own: Object.fromEntries(
          Object.entries(input.own).map(([book, rule]) => [book, readRule(rule)]),
        ),
      },
      threshold: input.threshold,
      needs: input.needs,
      blocked: input.blocked,
    };
    const before = classes.find((c) => c.code === kept.code);
    await tx.execute(sql`
      insert into asset_class (code, name, parent, accounts, rules, threshold, needs, blocked)
      values (${kept.code}, ${kept.name}, ${kept.parent}, ${JSON.stringify(kept.accounts)}::jsonb,
        ${JSON.stringify(kept.rules)}::jsonb, ${kept.threshold}, ${arrayOf(kept.needs)}::text[],
        ${kept.blocked})
      on conflict (code) do update set name = excluded.name, parent = excluded.parent,
        accounts = excluded.accounts, rules = excluded.rules, threshold = excluded.threshold,
        needs = excluded.needs, blocked = excluded.blocked`);
    await audit({
      action: before ? "changed" : "added",
      kind: "asset class",
      recordId: kept.code,
      label: kept.name,
      before,
      after: kept,
    });
    return ok({});
  },
});

/** Each account is of the kind that it stands for. */
function againstAccounts(masters: Masters, input: AssetClassInput): Found[] {
  const depreciates = input.common.method !== "none" || Object.keys(input.own).length > 0;
  const wanted: {
    field: keyof AssetClassInput & string;
    control: ControlKind | null;
    type?: "income" | "expense";
    needed: boolean;
  }[] = [
    { field: "cost", control: "asset", needed: true },
    { field: "accumulated", control: "asset", needed: depreciates },
    { field: "charge", control: null, type: "expense", needed: depreciates },
    { field: "clearing", control: "intake", needed: false },
    { field: "gain", control: null, type: "income", needed: false },
    { field: "loss", control: null, type: "expense", needed: false },
  ];
  const problems: Found[] = [];
  for (const { field, control, type, needed } of wanted) {
    const number = String(input[field]);
    if (number === "") {
      if (needed) problems.push({ code: "INVALID", what: "An account is needed", field });
      continue;
    }
    const account = masters.accountByNumber.get(number);
    if (!account) problems.push({ code: "ACCOUNT_UNKNOWN", account: number, field });
    else if (account.control !== control)
      problems.push({
        code: "INVALID",
        what: control
          ? `${number} ${account.name} is no control account of kind ${control}`
          : `${number} ${account.name} is a control account of ${account.control}`,
        field,
      });
    else if (type && account.type !== type)
      problems.push({
        code: "INVALID",
        what: `${number} ${account.name} is no account of ${type === "income" ? "income" : "expenses"}`,
        field,
      });
  }
  return problems;
}

/** The class above is there, and not below this one. */
function againstParent(classes: readonly AssetClass[], input: AssetClassInput): Found[] {
  if (input.parent === "") return [];
  let above: string | undefined = input.parent;
  for (let steps = 0; above; steps++) {
    if (above === input.code || steps > 20)
      return [{ code: "INVALID", what: "A class does not lie below itself", field: "parent" }];
    const found = classes.find((c) => c.code === above);
    if (!found && steps === 0)
      return [{ code: "NOT_FOUND", what: `class ${above.slice(0, 40)}`, field: "parent" }];
    above = found?.parent;
  }
  return [];
}

const againstNeeds = (masters: Masters, needs: readonly string[]): Found[] =>
  needs
    .filter((n) => !(ASSET_FACTS as readonly string[]).includes(n))
    .filter((n) => !masters.dimensionByCode.has(n))
    .map((n) => ({ code: "DIMENSION_UNKNOWN", dimension: n.slice(0, 40), field: "needs" }));
