import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { decimalText, fail, minor, ok, readAmount, type Found, type Result } from "@/core/shared";
import { readQuantity, writtenAccountProblem } from "@/core/ledger";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";
import { shareSchema, type ShareSet } from "@/core/shares";

const READ = ["read.payables", "prepare.payables"] as const;

export const readShares = (tx: Db): Promise<ShareSet[]> =>
  rows<ShareSet>(tx, sql`select code, name, way, targets from share_set order by code`);
export const listShares = defineUseCase({
  name: "listShares",
  kind: "read",
  rights: READ,
  what: "see shares",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readShares(tx)),
});

/** How a cost is split: saved once, used by its code on any invoice line. */
export const saveShares = defineUseCase({
  name: "saveShares",
  kind: "write",
  rights: ["prepare.payables", "setup.rules"],
  what: "change shares",
  of: "group",
  schema: shareSchema,
  run: async ({ tx, masters, audit }, input): Promise<Result<unknown>> => {
    const problems: Found[] = [];
    input.targets.forEach((t, i) => {
      if (t.company && !masters.companyByCode.has(t.company))
        problems.push({
          code: "COMPANY_UNKNOWN",
          company: t.company,
          line: i + 1,
          field: "targets",
        });
      const fault = writtenAccountProblem(masters, t.account, { line: i + 1, field: "targets" });
      if (fault) problems.push(fault);
      for (const [code, value] of Object.entries(t.dimensions)) {
        const dimension = masters.dimensionByCode.get(code);
        if (!dimension)
          problems.push({
            code: "DIMENSION_UNKNOWN",
            dimension: code,
            line: i + 1,
            field: "targets",
          });
        else if (value && !masters.value(dimension.id, value))
          problems.push({
            code: "VALUE_UNKNOWN",
            dimension: dimension.name.toLowerCase(),
            value,
            line: i + 1,
            field: "targets",
          });
      }
    });
    if (
      input.way === "per cent" &&
      input.targets.reduce((t, x) => t + Math.round(Number(x.weight || 0) * 10_000), 0) !==
        1_000_000
    )
      problems.push({
        code: "INVALID",
        what: "The per cent do not add up to 100",
        field: "targets",
      });
    if (problems.length > 0) return fail(...problems);
    const before = (await readShares(tx)).find((s) => s.code === input.code);
    await tx.execute(
      sql`insert into share_set (code, name, way, targets) values (${input.code}, ${input.name},
        ${input.way}, ${JSON.stringify(input.targets)}::jsonb)
        on conflict (code) do update set name = excluded.name, way = excluded.way,
        targets = excluded.targets`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "shares",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});

export interface ToleranceRow {
  supplier: string;
  itemGroup: string;
  pricePercent: string | null;
  priceAmount: bigint | null;
  quantityPercent: string | null;
  quantityAmount: bigint | null;
  receiptPercent: string;
}
export const readTolerances = (tx: Db): Promise<ToleranceRow[]> =>
  rows<ToleranceRow>(
    tx,
    sql`select supplier, item_group as "itemGroup", price_percent as "pricePercent",
      price_amount as "priceAmount", quantity_percent as "quantityPercent",
      quantity_amount as "quantityAmount", receipt_percent as "receiptPercent" from match_tolerance
      order by supplier, item_group`,
  );
/**
 * The tolerance that holds: for the supplier and the group, else the supplier, else the group, else
 * for all.
 */
export const toleranceFor = (
  all: readonly ToleranceRow[],
  supplier: string,
  group: string,
): ToleranceRow | undefined =>
  [
    [supplier, group],
    [supplier, ""],
    ["", group],
    ["", ""],
  ]
    .map(([s, g]) => all.find((t) => t.supplier === s && t.itemGroup === g))
    .find((t) => t !== undefined);

export const listTolerances = defineUseCase({
  name: "listTolerances",
  kind: "read",
  rights: READ,
  what: "see tolerances",
  of: "shared",
  schema: object(),
  run: async ({ tx }) => ok(await readTolerances(tx)),
});

const percent = () =>
  string()
    .trim()
    .default("")
    .matches(/^\d{0,3}(\.\d{1,2})?$/, "Write per cent like 2.5");
export const saveTolerance = defineUseCase({
  name: "saveTolerance",
  kind: "write",
  rights: ["setup.rules"],
  what: "change tolerances",
  of: "group",
  schema: object({
    supplier: string().trim().default(""),
    itemGroup: string().trim().default(""),
    pricePercent: percent(),
    priceAmount: string().trim().default(""),
    quantityPercent: percent(),
    quantityAmount: string().trim().default(""),
    receiptPercent: percent(),
    remove: boolean().default(false),
  }),
  run: async ({ tx, audit }, input) => {
    const amount = input.priceAmount === "" ? null : readAmount(input.priceAmount, "EUR");
    if (amount && !amount.ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.priceAmount, field: "priceAmount" });
    const quantity = input.quantityAmount === "" ? null : readQuantity(input.quantityAmount);
    if (input.quantityAmount !== "" && quantity === null)
      return fail({
        code: "QUANTITY_INVALID",
        text: input.quantityAmount,
        field: "quantityAmount",
      });
    if (
      input.supplier !== "" &&
      (await rows(tx, sql`select 1 from partner where code = ${input.supplier}`)).length === 0
    )
      return fail({ code: "PARTNER_UNKNOWN", partner: input.supplier, field: "supplier" });
    const before = (await readTolerances(tx)).find(
      (t) => t.supplier === input.supplier && t.itemGroup === input.itemGroup,
    );
    await tx.execute(
      sql`delete from match_tolerance where supplier = ${input.supplier} and item_group = ${input.itemGroup}`,
    );
    if (!input.remove)
      await tx.execute(
        sql`insert into match_tolerance (supplier, item_group, price_percent, price_amount,
          quantity_percent, quantity_amount, receipt_percent)
          values (${input.supplier}, ${input.itemGroup}, ${input.pricePercent || null},
          ${amount?.ok ? amount.amount : null}, ${input.quantityPercent || null}, ${quantity},
          ${input.receiptPercent || "0"})`,
      );
    await audit({
      action: input.remove ? "removed" : before ? "changed" : "added",
      kind: "tolerance",
      recordId: `${input.supplier}|${input.itemGroup}`,
      label: `${input.supplier || "all suppliers"}, ${input.itemGroup || "all items"}`,
      before: before && {
        ...before,
        priceAmount:
          before.priceAmount === null ? null : decimalText(minor(before.priceAmount), "EUR"),
      },
      after: input,
    });
    return ok({});
  },
});
export const idSchema = object({ id: number().integer().required() });
