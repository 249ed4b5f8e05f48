import { describe, expect, test } from "vitest";
import { companySchema } from "@/core/organisation";
import { faultsOf } from "./fault";

describe("what a form finds wrong before anybody is asked", () => {
  const right = { code: "HSF", name: "Hollin Sound Ferries", currency: "EUR", country: "ie" };

  test("is nothing where the use case would take it", () => {
    expect(faultsOf(companySchema, right)).toEqual([]);
  });

  test("is each fault at its field, in the sentence of the use case", () => {
    expect(faultsOf(companySchema, { ...right, code: "TOOLONG7", name: "" })).toEqual([
      { field: "code", message: expect.stringContaining("at most six characters") as string },
      { field: "name", message: "A name is needed." },
    ]);
  });

  test("is said of a code with small letters", () => {
    expect(faultsOf(companySchema, { ...right, code: "hsf" })).toEqual([
      { field: "code", message: "A code has capital letters, figures and dashes." },
    ]);
  });
});
