import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, test, vi } from "vitest";
import type { RecordValues } from "@/ui/form";
import type { Answer } from "./answer";
import { FieldForm } from "./FieldForm";

const router = { push: vi.fn(), refresh: vi.fn() };
vi.mock("next/navigation", () => ({ useRouter: () => router }));

const job = vi.fn<(values: RecordValues) => Promise<Answer<null>>>();
const close = vi.fn();
const done = { ok: true as const, value: null };
const refused = (field: string | null, message: string): Answer<null> => ({
  ok: false,
  message,
  problems: [{ line: null, field, code: "INVALID", message }],
});
const begin = (props: Partial<Parameters<typeof FieldForm<null>>[0]> = {}) => {
  render(
    <>
      <FieldForm
        name="plan"
        fields={[
          { key: "on", label: "Every day", kind: "check" },
          { key: "hour", label: "Hour", kind: "text" },
          { key: "limit", label: "Limit", kind: "figure" },
        ]}
        start={{ on: true, hour: "2", limit: "1,000.00" }}
        shows={({ on }) => ["on", "limit", ...(on ? ["hour"] : [])]}
        check={({ hour }) =>
          Number(hour) < 24 ? [] : [{ field: "hour", message: "There are 24 hours." }]
        }
        button="Save"
        job={job}
        {...props}
      />
      <a href="/elsewhere">Elsewhere</a>
    </>,
  );
  return userEvent.setup();
};
const hour = () => screen.getByLabelText<HTMLInputElement>("Hour");
const save = () => screen.getByRole("button", { name: "Save" });

beforeEach(() => {
  vi.clearAllMocks();
  job.mockResolvedValue(done);
});

describe("a form on a page", () => {
  test("what is wrong is said at its field, and the server is not asked", async () => {
    const user = await begin();
    await user.clear(hour());
    await user.type(hour(), "25{Enter}");
    expect(await screen.findByText("There are 24 hours.")).toBeTruthy();
    expect([hour().getAttribute("aria-invalid"), job.mock.calls]).toEqual(["true", []]);
    await user.clear(hour());
    await user.type(hour(), "3{Enter}");
    expect(job).toHaveBeenCalledExactlyOnceWith({ on: true, hour: "3", limit: "1,000.00" });
  });
  test("a refusal stands at its field or above, and nothing typed is lost; nor by a silent server", async () => {
    const user = await begin();
    await user.clear(hour());
    await user.type(hour(), "7");
    job.mockResolvedValueOnce(refused("limit", "That is too much."));
    await user.click(save());
    expect(document.activeElement).toBe(screen.getByLabelText("Limit"));
    expect(screen.getByText("That is too much.").id).toBe("plan-limit-problem");
    job.mockResolvedValueOnce(refused("elsewhere", "The year is closed."));
    await user.click(save());
    expect(screen.getByRole("alert").textContent).toBe("The year is closed.");
    job.mockRejectedValueOnce(new Error("gone"));
    await user.click(save());
    expect(screen.getByRole("alert").textContent).toMatch(/did not answer/);
    expect(hour().value).toBe("7");
  });
  test("asks before what was typed is left behind by a link, and not once it is saved", async () => {
    const user = await begin();
    await user.type(hour(), "1");
    await user.click(screen.getByText("Elsewhere"));
    expect(screen.getByRole("alertdialog")).toBeTruthy();
    expect(router.push).not.toHaveBeenCalled();
    await user.click(screen.getByText("Keep editing"));
    await user.click(save());
    await user.click(screen.getByText("Elsewhere"));
    expect([screen.queryByRole("alertdialog"), hour().value]).toEqual([null, "21"]);
  });
  test("what follows may leave the page: nothing is unsaved by then", async () => {
    const leaves: boolean[] = [];
    const leave = () =>
      leaves.push(window.dispatchEvent(new Event("beforeunload", { cancelable: true })));
    const user = await begin({ then: leave });
    await user.type(hour(), "1");
    leave();
    await user.click(save());
    await expect.poll(() => leaves).toEqual([false, true]);
  });
  test("Esc leaves a form that can be left; one that empties begins anew when it is done", async () => {
    const user = await begin({ close, empties: true });
    await user.type(hour(), "{Escape}");
    expect(close).toHaveBeenCalledOnce();
    await user.type(hour(), "0{Enter}");
    await expect.poll(() => hour().value).toBe("2");
  });
  test("a field that does not count is not there, and is not asked about", async () => {
    const user = await begin();
    await user.clear(hour());
    await user.type(hour(), "99");
    await user.click(screen.getByLabelText("Every day"));
    expect(screen.queryByLabelText("Hour")).toBeNull();
    await user.click(save());
    expect(job).toHaveBeenCalledOnce();
  });
});
