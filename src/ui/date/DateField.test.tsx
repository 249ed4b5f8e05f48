import { useState } from "react";
import { fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { DateField } from "./DateField";

const given = vi.fn();
function Form({ as, first = "" }: { as?: "text" | "day"; first?: string }) {
  const [value, setValue] = useState(first);
  return (
    <form aria-label="form" onKeyDown={(e) => e.key === "Escape" && given("left the form")}>
      <DateField
        aria-label="Day"
        {...(as ? { as } : {})}
        value={value}
        onChange={(text) => {
          given(text);
          setValue(text);
        }}
      />
    </form>
  );
}
const field = () => screen.getByLabelText<HTMLInputElement>("Day");
const last = () => given.mock.lastCall?.[0] as string;

beforeEach(() => {
  given.mockClear();
  vi.useFakeTimers({ now: new Date("2026-11-05T10:00:00Z"), toFake: ["Date"] });
});
afterEach(() => vi.useRealTimers());

describe("a field for a date", () => {
  test("takes what is typed in any of the usual ways, and tidies it when it is left", async () => {
    render(<Form />);
    await userEvent.type(field(), "3.12.");
    expect([field().value, last()]).toEqual(["3.12.", "3.12."]);
    await userEvent.tab();
    expect([field().value, last()]).toEqual(["3 Dec 2026", "3 Dec 2026"]);
  });

  test("keeps what is no date as it was typed", async () => {
    render(<Form as="day" />);
    await userEvent.type(field(), "31 Feb");
    await userEvent.tab();
    expect([field().value, last()]).toEqual(["31 Feb", "31 Feb"]);
  });

  test("gives calendar dates where it is asked for them, and is emptied", async () => {
    render(<Form as="day" first="2026-12-31" />);
    expect(field().value).toBe("31 Dec 2026");
    await userEvent.clear(field());
    expect(last()).toBe("");
    await userEvent.type(field(), "1 jan 2027");
    expect(last()).toBe("2027-01-01");
  });

  test("moves by days and months with the arrows, over the year's edge; an empty one begins today", async () => {
    render(<Form as="day" />);
    await userEvent.type(field(), "{ArrowUp}");
    expect(last()).toBe("2026-11-05");
    await userEvent.type(field(), "{ArrowDown}");
    expect(last()).toBe("2026-11-04");
    await userEvent.clear(field());
    await userEvent.type(field(), "31 dec{ArrowUp}");
    expect(last()).toBe("2027-01-01");
    fireEvent.keyDown(field(), { key: "ArrowDown", shiftKey: true });
    expect(last()).toBe("2026-12-01");
  });

  test("opens a calendar by keyboard, takes the day chosen there, and has the focus again", async () => {
    render(<Form as="day" first="2026-11-30" />);
    field().focus();
    fireEvent.keyDown(field(), { key: "ArrowDown", altKey: true });
    const calendar = await screen.findByRole("dialog", { name: "Calendar" });
    const day = await within(calendar).findByRole("button", { name: /30th.*selected/i });
    // The focus follows once the calendar stands.
    await waitFor(() => expect(document.activeElement).toBe(day));
    fireEvent.keyDown(day, { key: "ArrowRight" });
    await userEvent.click(
      await within(calendar).findByRole("button", { name: /December 1st, 2026/ }),
    );
    expect([last(), field().value]).toEqual(["2026-12-01", "1 Dec 2026"]);
    await waitFor(() => expect(document.activeElement).toBe(field()));
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  test("Esc closes the calendar and not the form around it", async () => {
    render(<Form as="day" first="2026-11-30" />);
    await userEvent.click(screen.getByRole("button", { name: "Calendar" }));
    const calendar = await screen.findByRole("dialog", { name: "Calendar" });
    fireEvent.keyDown(calendar, { key: "Escape" });
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(given).not.toHaveBeenCalled();
  });
});
