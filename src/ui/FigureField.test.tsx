import { useState } from "react";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, expect, test } from "vitest";
import { DateField } from "./date/DateField";
import { FigureField } from "./FigureField";

let kept = "";
function Form({ first = "" }: { first?: string }) {
  const [value, setValue] = useState(first);
  const [day, setDay] = useState("5 Nov 2026");
  return (
    <>
      <FigureField
        aria-label="Amount"
        value={value}
        onChange={(text) => {
          kept = text;
          setValue(text);
        }}
      />
      <button
        type="button"
        onMouseDown={(e) => e.preventDefault()}
        onClick={() => setValue("2,000.25")}
      >
        Take from elsewhere
      </button>
      <DateField aria-label="Day" value={day} onChange={setDay} />
    </>
  );
}
const amount = () => screen.getByLabelText<HTMLInputElement>("Amount");
const day = () => screen.getByLabelText<HTMLInputElement>("Day");

beforeEach(() => void (document.documentElement.dataset.writing = "comma.points"));
afterEach(() => void delete document.documentElement.dataset.writing);

test("what is typed stands as it was typed, and is kept in the standard way at each key", async () => {
  render(<Form first="1,234.50" />);
  expect(amount().value).toBe("1.234,50");
  await userEvent.clear(amount());
  await userEvent.type(amount(), "12.345,6");
  expect([amount().value, kept]).toEqual(["12.345,6", "12,345.6"]);
  // Sent by Enter, before the field is left, it is the amount that was meant.
  await userEvent.clear(amount());
  await userEvent.type(amount(), "1.234");
  expect(kept).toBe("1,234");
});

test("a value that comes from elsewhere while one types is shown", async () => {
  render(<Form />);
  await userEvent.type(amount(), "1,5");
  // The focus stays in the field.
  await userEvent.click(screen.getByText("Take from elsewhere"));
  expect(document.activeElement).toBe(amount());
  expect(amount().value).toBe("2.000,25");
});

test("a date is shown this person's way, and typed in any", async () => {
  render(<Form />);
  expect(day().value).toBe("05.11.2026");
  await userEvent.clear(day());
  await userEvent.type(day(), "6 Dec 2026");
  await userEvent.tab();
  expect(day().value).toBe("06.12.2026");
});

test("what was put there without a key counts once the field is left", async () => {
  render(<Form first="1,000.00" />);
  await userEvent.type(amount(), "5");
  const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!;
  put.call(amount(), "2.500");
  await userEvent.tab();
  expect([amount().value, kept]).toEqual(["2.500", "2,500"]);
});
