import { sql } from "drizzle-orm";
import { boolean, object, string } from "yup";
import { writtenAccountProblem } from "@/core/ledger";
import { ITEM_KINDS, readPrice, type ItemSide, type TradeItem } from "@/core/trade";
import { fail, isCurrency, ok, textRecord, type Found, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows, type Db } from "../db";

export const readItems = (tx: Db, side: ItemSide): Promise<TradeItem[]> =>
  rows<TradeItem>(
    tx,
    sql`select code, name, kind, "group", unit, account, dimensions, tax_code as "taxCode", price,
      currency, blocked from trade_item where side = ${side} order by code`,
  );

const itemSchema = object({
  code: string()
    .trim()
    .uppercase()
    .required("A code is needed")
    .matches(/^[A-Z0-9-]{1,30}$/, "A code has capitals, figures and dashes"),
  name: string().trim().required("A name is needed").max(120),
  kind: string().oneOf(ITEM_KINDS).default("goods"),
  group: string().trim().max(40).default(""),
  unit: string().trim().max(20).default(""),
  account: string().trim().default(""),
  dimensions: textRecord(),
  taxCode: string().trim().uppercase().max(20).default(""),
  price: string().trim().default(""),
  currency: string().trim().uppercase().default(""),
  blocked: boolean().default(false),
});

/** Seeing and changing the items of one side, by whoever works there. */
const itemsOf = <const List extends string, const Save extends string>(
  side: ItemSide,
  area: "payables" | "receivables",
  names: { list: List; save: Save; one: string },
) => ({
  list: defineUseCase({
    name: names.list,
    kind: "read",
    rights: [`read.${area}`, `prepare.${area}`],
    what: `see ${names.one}s`,
    of: "shared",
    schema: object(),
    run: async ({ tx }) => ok(await readItems(tx, side)),
  }),
  save: defineUseCase({
    name: names.save,
    kind: "write",
    rights: [`prepare.${area}`, "setup.rules"],
    what: `change ${names.one}s`,
    of: "group",
    schema: itemSchema,
    run: async ({ tx, masters, audit }, input): Promise<Result<object>> => {
      const problems: Found[] = [];
      const fault = writtenAccountProblem(masters, input.account, { field: "account" });
      if (fault) problems.push(fault);
      const price = input.price === "" ? "" : readPrice(input.price);
      if (price === null)
        problems.push({
          code: "INVALID",
          what: `“${input.price}” is no price. Write it like 12.50`,
          field: "price",
        });
      if (input.currency !== "" && !isCurrency(input.currency))
        problems.push({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
      if (problems.length > 0) return fail(...problems);
      const before = (await readItems(tx, side)).find((i) => i.code === input.code);
      await tx.execute(sql`insert into trade_item (side, code, name, kind, "group", unit, account,
        dimensions, tax_code, price, currency, blocked) values (${side}, ${input.code},
        ${input.name}, ${input.kind}, ${input.group}, ${input.unit}, ${input.account},
        ${JSON.stringify(input.dimensions)}::jsonb, ${input.taxCode}, ${price ?? ""},
        ${input.currency}, ${input.blocked})
        on conflict (side, code) do update set name = excluded.name, kind = excluded.kind,
          "group" = excluded."group", unit = excluded.unit, account = excluded.account,
          dimensions = excluded.dimensions, tax_code = excluded.tax_code, price = excluded.price,
          currency = excluded.currency, blocked = excluded.blocked`);
      await audit({
        action: before ? "changed" : "added",
        kind: names.one,
        recordId: input.code,
        label: input.name,
        before,
        after: input,
      });
      return ok({});
    },
  }),
});

const bought = itemsOf("bought", "payables", {
  list: "listPurchaseItems",
  save: "savePurchaseItem",
  one: "purchase item",
});
const sold = itemsOf("sold", "receivables", {
  list: "listSaleItems",
  save: "saveSaleItem",
  one: "sale item",
});
export const listPurchaseItems = bought.list;
export const savePurchaseItem = bought.save;
export const listSaleItems = sold.list;
export const saveSaleItem = sold.save;
