import { sql } from "drizzle-orm";
import { expect, test } from "vitest";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { savePartner } from "../partners";
import { customerConversation, sayOfCustomer } from "../receivables";
import { demoClock } from "./demoClock";

const w = world();

test("the demo's evening holds a whole day, in its order", () => {
  const at = (time: string) => demoClock("2026-11-05", new Date(`2026-12-01T${time}Z`));
  expect(at("00:00:00.000").toISOString()).toBe("2026-11-05T18:00:00.000Z");
  expect(at("12:00:00.000").toISOString()).toBe("2026-11-05T21:00:00.000Z");
  expect(at("23:59:59.999") < new Date("2026-11-06T00:00:00Z")).toBe(true);
  expect(at("03:00:01.000") > at("03:00:00.000")).toBe(true);
});

test("what is noted in the demo is noted on its day; books of one's own have the machine's clock", async () => {
  const root = await callerOf(w.database, "root");
  must(await savePartner(root, { code: "FEN", name: "Fennick Freight", customer: true }));
  const FEN = { company: "ALP", partner: "FEN" };
  const noted = async (text: string) => {
    must(await sayOfCustomer(root, { ...FEN, text }));
    const conversation = must(await customerConversation(root, FEN));
    return conversation.find((s) => s.text === text)!.at.slice(0, 10);
  };
  const machine = new Date().toISOString().slice(0, 10);
  expect(await noted("by the machine")).toBe(machine);
  await w.database.db.execute(sql`insert into setting (key, value) values ('demo', 'true'::jsonb)`);
  expect(await noted("by the demo")).toBe("2026-10-15");
});
