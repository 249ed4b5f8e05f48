import { expect, inject, test } from "vitest";
import { attack } from "../attack/attack";
import { DEMO_PASSWORD } from "../src/demo/people";

test("what has been tried against the application does not get through (short form)", async () => {
  const outcomes = await attack({
    base: inject("demo"),
    password: DEMO_PASSWORD,
    own: "MBY",
    other: "HSF",
    size: 4,
    pid: null,
    patient: false,
  });
  expect(outcomes.length).toBeGreaterThan(35);
  // How fast others are meanwhile is measured by the long form, on a machine that does nothing else.
  expect(outcomes.filter((o) => !o.holds && !o.timed)).toEqual([]);
});
