import { expect, test } from "vitest";
import { withoutValues } from "./log";

test("a line of the log carries no value that a statement was sent with", () => {
  const cause = Object.assign(new Error('invalid input syntax for type date: "Secret Street 7"'), {
    code: "22007",
  });
  const error = new Error(
    "Failed query: select $1\nparams: DE89370400440532013000,Secret Street 7",
  );
  error.cause = cause;
  Object.assign(error, { params: ["DE89370400440532013000"] });
  const text = JSON.stringify(withoutValues(error));
  expect(text).not.toMatch(/DE89|Secret/);
  expect(text).toMatch(/Failed query: select \$1/);
  expect(text).toMatch(/22007/);
});
