import { useState } from "react";
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, test, vi } from "vitest";
import { Say } from "./Say";

const say = vi.fn();
vi.mock("./actions", () => ({ sayOfCustomerAction: (input: unknown) => say(input) as unknown }));
vi.mock("next/navigation", () => ({ useRouter: () => ({ refresh: () => {} }) }));
vi.mock("@/ui/frame/work", () => ({
  useWork: () => ({ today: "2026-11-05" }),
  useToday: () => "2026-11-05",
}));

const send = vi.fn<typeof fetch>();
const answered = (answer: object) => Promise.resolve(new Response(JSON.stringify(answer)));
const mail = new File(["We pay."], "mail.txt", { type: "text/plain" });
const noted = { ok: true, value: { id: 7, called: [] } };

function Desk() {
  const [files, onFiles] = useState<readonly File[]>([]);
  return <Say company="HSF" partner="C-203" files={files} onFiles={onFiles} />;
}
const text = () => screen.getByLabelText<HTMLTextAreaElement>("What was said");
const note = () => userEvent.click(screen.getByRole("button", { name: "Note" }));

beforeEach(() => {
  vi.clearAllMocks();
  vi.stubGlobal("fetch", send);
  say.mockResolvedValue(noted);
  send.mockImplementation(() => answered({ ok: true, value: { id: 1 } }));
  render(<Desk />);
});

test("a file goes with what was said, and both fields are free again", async () => {
  await userEvent.type(text(), "Their mail");
  await userEvent.upload(screen.getByLabelText("Add a file"), mail);
  await note();
  expect(say).toHaveBeenCalledWith(expect.objectContaining({ text: "Their mail", kind: "call" }));
  expect(send.mock.calls.map(([to]) => to)).toEqual(["/attachments?remark=7&name=mail.txt"]);
  expect(text().value).toBe("");
  expect(screen.queryByText("mail.txt")).toBeNull();
});

test("a file alone is noted by its name", async () => {
  await userEvent.upload(screen.getByLabelText("Add a file"), mail);
  await note();
  expect(say).toHaveBeenCalledWith(expect.objectContaining({ text: "mail.txt" }));
});

test("what is not noted is kept with its file; a file that is refused says why and waits", async () => {
  await userEvent.type(text(), "@nobody, look");
  await userEvent.upload(screen.getByLabelText("Add a file"), mail);
  say.mockResolvedValueOnce({ ok: false, problems: [{ message: "There is no person nobody." }] });
  await note();
  expect(screen.getByRole("alert").textContent).toBe("There is no person nobody.");
  expect([text().value, send.mock.calls.length]).toEqual(["@nobody, look", 0]);
  send.mockImplementationOnce(() => answered({ ok: false, message: "The file is empty." }));
  await note();
  expect(screen.getByRole("alert").textContent).toBe("mail.txt: The file is empty.");
  expect(text().value).toBe("");
  expect(screen.getByText("mail.txt")).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Leave out mail.txt" }));
  expect(screen.queryByText("mail.txt")).toBeNull();
});
