import { createRef } from "react";
import { render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { object, string } from "yup";
import { faultsOf, type Fault } from "./fault";
import { RecordForm, type Leave } from "./RecordForm";
import type { RecordField } from "./RecordInput";
import type { RecordValues } from "./useRecordForm";

vi.mock("next/navigation", () => ({ useRouter: () => ({ push: vi.fn() }) }));

const FIELDS: RecordField[] = [
  { key: "code", label: "Code", kind: "text", required: true, fixed: true },
  { key: "name", label: "Name", kind: "text", required: true },
  { key: "own.note", label: "Note", kind: "text" },
  {
    key: "currency",
    label: "Currency",
    kind: "select",
    options: "ABCDEFGHIJKLM".split("").map((c) => ({ value: c, text: `Currency ${c}` })),
  },
];
const SCHEMA = object({
  code: string()
    .matches(/^[A-Z]{3}$/, "A code has three capital letters")
    .required("A code is needed"),
  name: string().required("A name is needed"),
});

function show(answer: readonly Fault[] | null = [], stands = false) {
  const save = vi.fn((_values: RecordValues) => Promise.resolve(answer));
  const close = vi.fn();
  const leaving = createRef<Leave>();
  render(
    <RecordForm
      title="Thing"
      fields={FIELDS}
      start={{ code: stands ? "ABC" : "", name: stands ? "Old" : "", "own.note": "", currency: "" }}
      stands={stands}
      mayChange
      check={(values) => faultsOf(SCHEMA, values)}
      save={save}
      remove={undefined}
      shows={undefined}
      close={close}
      leaving={leaving}
    />,
  );
  return { user: userEvent.setup(), save, close };
}
const field = (label: string) => screen.getByLabelText<HTMLInputElement>(new RegExp(`^${label}`));
const focused = () => document.activeElement?.id;

test("the first field has the focus; what is wrong is said when a field is left, and nobody is asked", async () => {
  const { user, save } = show();
  expect(focused()).toBe("record-code");
  await user.keyboard("ab{Tab}");
  await screen.findByText("A code has three capital letters.");
  expect(screen.queryByText("A name is needed.")).toBeNull();
  await user.keyboard("{Enter}");
  await screen.findByText("A name is needed.");
  expect(save).not.toHaveBeenCalled();
  await user.clear(field("Code"));
  await user.type(field("Code"), "ABC");
  await waitFor(() => expect(screen.queryByText("A code has three capital letters.")).toBeNull());
});

test("Enter saves what was typed, with names that hold a point, and the form goes", async () => {
  const { user, save, close } = show();
  await user.keyboard("ABC{Tab}Quay{Tab}by hand{Enter}");
  await waitFor(() => expect(close).toHaveBeenCalled());
  expect(save).toHaveBeenCalledWith({
    code: "ABC",
    name: "Quay",
    "own.note": "by hand",
    currency: "",
  });
});

test("what the server finds stands at its field, which has the focus; nothing typed is lost", async () => {
  const { user, close } = show([
    { field: "name", message: "The name is taken." },
    { field: null, message: "The year is closed." },
  ]);
  await user.keyboard("ABC{Tab}Quay{Enter}");
  await screen.findByText("The name is taken.");
  await screen.findByText("The year is closed.");
  await waitFor(() => expect(focused()).toBe("record-name"));
  expect([field("Code").value, field("Name").value]).toEqual(["ABC", "Quay"]);
  expect(close).not.toHaveBeenCalled();
});

test("without an answer the form stays, and says so", async () => {
  const { user, close } = show(null);
  await user.keyboard("ABC{Tab}Quay{Enter}");
  await screen.findByText(/The server did not answer/);
  expect(close).not.toHaveBeenCalled();
});

test("Esc leaves an untouched form, and asks before it leaves another; an unchanged one is not saved", async () => {
  const untouched = show([], true);
  await untouched.user.keyboard("{Enter}");
  expect(untouched.close).toHaveBeenCalledTimes(1);
  expect(untouched.save).not.toHaveBeenCalled();
  await untouched.user.type(field("Name"), "er");
  await untouched.user.keyboard("{Escape}");
  expect(await screen.findByRole("alertdialog")).toBeTruthy();
  await untouched.user.click(screen.getByText("Keep editing"));
  expect([field("Name").value, focused()]).toEqual(["Older", "record-name"]);
  // From a choice one goes back to where one typed: its list would lie over the page.
  await untouched.user.click(field("Currency"));
  await untouched.user.keyboard("{Escape}{Escape}");
  await untouched.user.click(await screen.findByText("Keep editing"));
  expect([focused(), screen.queryByRole("listbox")]).toEqual(["record-name", null]);
  await untouched.user.keyboard("{Escape}");
  await untouched.user.click(await screen.findByText("Discard"));
  expect(untouched.close).toHaveBeenCalledTimes(2);
});
