import { expect, test } from "vitest";
import { firstSteps, hasBegun, type Begun } from "./firstSteps";

const begun = (more: Partial<Begun> = {}): Begun => ({
  companies: 1,
  withoutYear: 0,
  books: 1,
  accounts: 120,
  values: 0,
  people: 2,
  openings: 0,
  journals: 1,
  ...more,
});

test("the steps are over with the first journal that is no opening, and not before all that is needed is there", () => {
  expect(hasBegun(firstSteps(begun()))).toBe(true);
  for (const missing of [
    { companies: 0 },
    { withoutYear: 1 },
    { accounts: 0 },
    { people: 1 },
    { journals: 0 },
    { openings: 1, journals: 1 },
  ])
    expect(hasBegun(firstSteps(begun(missing)))).toBe(false);
});
