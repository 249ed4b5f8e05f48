import { object } from "yup";
import { priceIndexSchema, type PriceIndex } from "@/core/receivables";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { readSetting, writeSetting, type Db } from "../../db";

const SETTING = "receivables.priceIndices";

/** Indices of prices that agreements may follow, as they are published: data, like rates. */
export const readPriceIndices = async (tx: Db): Promise<PriceIndex[]> =>
  (await readSetting<PriceIndex[]>(tx, SETTING)) ?? [];

export const priceIndices = defineUseCase({
  name: "priceIndices",
  kind: "read",
  rights: ["read.receivables", "read.setup", "setup.rules"],
  what: "see price indices",
  of: "shared",
  schema: object(),
  run: async ({ tx }): Promise<Result<PriceIndex[]>> => ok(await readPriceIndices(tx)),
});

/** Keeps an index with its values: invoices that are posted keep the prices that they had. */
export const savePriceIndex = defineUseCase({
  name: "savePriceIndex",
  kind: "write",
  rights: ["setup.rules"],
  what: "set up price indices",
  of: "group",
  schema: priceIndexSchema,
  run: async ({ tx, audit }, input): Promise<Result<object>> => {
    const all = await readPriceIndices(tx);
    const before = all.find((i) => i.code === input.code);
    const values = input.values.toSorted((a, b) => (a.from! < b.from! ? -1 : 1));
    const others = all.filter((i) => i.code !== input.code);
    await writeSetting(
      tx,
      SETTING,
      [...others, { ...input, values }].toSorted((a, b) => (a.code < b.code ? -1 : 1)),
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "price index",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});
