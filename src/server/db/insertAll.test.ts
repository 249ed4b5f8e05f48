import { sql } from "drizzle-orm";
import fc from "fast-check";
import { expect, test } from "vitest";
import { world } from "../../../tests/useWorld";
import { insertAll, rows, schema } from "./index";

const w = world();

const marks = [..."ab\"\\{},'\n é€𝄞null"];
const text = fc.string({ unit: fc.constantFrom(...marks), maxLength: 12 });
const detail = fc.option(
  fc.dictionary(text, fc.oneof(text, fc.integer(), fc.boolean(), fc.constant(null)), {
    maxKeys: 4,
  }),
);

test("any number of rows is written as given, whatever marks are in texts and JSON, and what is empty", async () => {
  let runId = 1_000_000;
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ label: text, leftOut: fc.option(text), detail }), { minLength: 1 }),
      async (given) => {
        runId++;
        await insertAll(
          w.database.db,
          schema.runItem,
          given.map((one, i) => ({
            ...one,
            runId,
            no: i + 1,
            key: String(i),
            grouping: "",
            amount: BigInt(i) * -(10n ** 15n),
            why: "",
            state: "in" as const,
            takes: i % 2 === 0,
            takenAs: null,
            droppable: true,
          })),
        );
        const kept = await rows<object>(
          w.database.db,
          sql`select label, left_out as "leftOut", detail, amount, takes from run_item
            where run_id = ${runId} order by no`,
        );
        expect(kept).toEqual(
          given.map((one, i) => ({
            ...one,
            amount: BigInt(i) * -(10n ** 15n),
            takes: i % 2 === 0,
          })),
        );
      },
    ),
    { numRuns: 60 },
  );
});
