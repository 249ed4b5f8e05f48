import { act, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test } from "vitest";
import { paperWords, usualLayout } from "@/core/banks";
import { minor } from "@/core/shared";
import { PaperSettings } from "./PaperSettings";
import { PaperSheet } from "./PaperSheet";
import { PieceList } from "./PieceList";
import { usePaper } from "./usePaper";

const WORDS = paperWords({
  kind: "cheque",
  company: "Hollin Sound Ferries",
  bankName: "Bank of the Sound",
  number: "1042",
  place: "",
  date: "2026-11-05",
  dueDate: null,
  payee: "Sample Chandlers",
  drawee: "",
  payableAt: "",
  purpose: "",
  amount: minor(123_456n),
  currency: "EUR",
});

function Editor() {
  const paper = usePaper("cheque", usualLayout("cheque"));
  return (
    <>
      <PaperSheet paper={paper} kind="cheque" words={WORDS} mayChange />
      <PieceList paper={paper} kind="cheque" mayChange />
      <PaperSettings paper={paper} kind="cheque" mayChange />
      <output>{paper.isChanged ? "changed" : "as it was"}</output>
    </>
  );
}
const open = () => {
  globalThis.ResizeObserver ??= class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  render(<Editor />);
  return userEvent.setup();
};
const piece = (name: string) => screen.getByRole("button", { name: new RegExp(`^${name}: `) });
const length = (label: string) => screen.getByLabelText<HTMLInputElement>(label);

test("an arrow moves a piece by a millimetre, with Shift by a tenth, and Ctrl Z takes it back", async () => {
  const user = open();
  act(() => piece("Payee").focus());
  expect(length("Left, mm").value).toBe("26");
  await user.keyboard("{ArrowRight}{ArrowRight}{Shift>}{ArrowLeft}{/Shift}");
  expect([length("Left, mm").value, length("Top, mm").value]).toEqual(["27.9", "31"]);
  expect(piece("Payee").getAttribute("aria-label")).toContain("27.9 mm from the left");
  await user.keyboard("{Control>}z{/Control}");
  expect(length("Left, mm").value).toBe("28");
  await user.keyboard("{Control>}zzz{/Control}");
  expect([length("Left, mm").value, screen.getByText("as it was").tagName]).toEqual([
    "26",
    "OUTPUT",
  ]);
});

test("a length that is none stays in its field and moves nothing; one beyond the edge says so at the piece", () => {
  open();
  act(() => piece("Payee").focus());
  const left = length("Left, mm");
  fireEvent.change(left, { target: { value: "far" } });
  expect([left.value, left.getAttribute("aria-invalid")]).toEqual(["far", "true"]);
  expect(piece("Payee").getAttribute("aria-label")).toContain("26 mm from the left");
  fireEvent.change(left, { target: { value: "150.5" } });
  expect(screen.getByText("Payee goes over the right edge of the paper")).toBeTruthy();
});

test("what is taken off the paper and put there again lies where it usually does", async () => {
  const user = open();
  await user.click(screen.getByLabelText("Amount in words"));
  expect(screen.queryByRole("button", { name: /^Amount in words: / })).toBeNull();
  await user.click(screen.getByLabelText("Amount in words"));
  expect(piece("Amount in words").getAttribute("aria-label")).toContain("42 mm from the top");
});

test("a spoilt number can be given again only where numbers go on by themselves", async () => {
  const user = open();
  const again = "The number of a spoilt form is given again";
  expect(screen.queryByLabelText(again)).toBeNull();
  await user.selectOptions(length("Numbers"), "series");
  expect(screen.getByLabelText<HTMLInputElement>(again).checked).toBe(false);
});
