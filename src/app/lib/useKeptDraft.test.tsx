import { act, renderHook, waitFor } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import { SIGNED_IN, SIGNED_OUT } from "@/ui/frame/SignInAgain";
import { useKeptDraft, type DraftKind } from "./useKeptDraft";

vi.mock("next/navigation", () => ({ useRouter: () => ({ push: vi.fn(), refresh: vi.fn() }) }));
vi.mock("@/ui/frame/work", () => ({ useWork: () => ({ link: (path: string) => path }) }));
vi.mock("sonner", () => ({ toast: Object.assign(vi.fn(), { success: vi.fn(), error: vi.fn() }) }));

interface Paper {
  company: string;
  note: string;
  lines: { text: string }[];
}
const KIND: DraftKind<Paper> = {
  name: "paper",
  works: { save: "save", post: "post", submit: "submit", delete: "delete" },
  page: "/papers",
  toRows: (content) => content.lines.map((l) => ({ text: l.text })),
  toContent: (head, rows) => ({ ...head, lines: rows.map((r) => ({ text: r.text ?? "" })) }),
  whole: (content) => content,
};
const EMPTY: Paper = { company: "ALP", note: "", lines: [] };

interface Sent {
  work: string;
  id?: number;
  version: number;
  overwrite?: boolean;
  content?: Paper;
}
/** A server that keeps one paper: its version, and what it was asked. */
class Server {
  asked: Sent[] = [];
  version = 0;
  content: Paper | null = null;
  /** What it answers instead, once. */
  instead: (() => Response | Promise<Response>) | null = null;

  fetch = async (address: string, init: { body: string }): Promise<Response> => {
    const work = new URL(address, "http://here").searchParams.get("work")!;
    const sent = { work, ...(JSON.parse(init.body) as Omit<Sent, "work">) };
    this.asked.push(sent);
    const { instead } = this;
    this.instead = null;
    if (instead) return instead();
    if (work !== "save") return Response.json({ ok: true, value: { id: 7, number: "P-1" } });
    if (this.version > 0 && sent.version !== this.version && !sent.overwrite)
      return Response.json({
        ok: false,
        message: "Somebody was faster.",
        problems: [{ line: null, field: null, code: "STALE", message: "Somebody was faster." }],
      });
    this.version++;
    this.content = sent.content!;
    const savedAt = "2026-11-05T10:00:00Z";
    return Response.json({
      ok: true,
      value: { id: 7, version: this.version, savedAt, problems: [] },
    });
  };
}
let server: Server;
let documents = 100;

beforeEach(() => {
  localStorage.clear();
  server = new Server();
  vi.stubGlobal("fetch", server.fetch);
  // What one window saved itself is remembered by the document: each test has another one.
  documents++;
});

const START = { id: null, version: 0, content: EMPTY, savedAt: null, check: null };
const open = (start: Parameters<typeof useKeptDraft<Paper, { problems: [] }>>[1] = START) => {
  const kind = { ...KIND, name: `paper${documents}` };
  return renderHook(() => useKeptDraft<Paper, { problems: [] }>(kind, start));
};
type Hook = ReturnType<typeof open>;
const type = ({ result }: Hook, note: string) => act(() => result.current.set("note", note));
const saved = (note: string) =>
  waitFor(() => expect(server.content?.note).toBe(note), { timeout: 3000 });
const kept = () => Object.values({ ...localStorage } as Record<string, string>).join();

test("what is typed is saved when typing rests: once, with the version that the save before made", async () => {
  const paper = open();
  for (const note of ["b", "be", "berth"]) type(paper, note);
  await saved("berth");
  expect(server.asked).toHaveLength(1);
  await waitFor(() => expect(paper.result.current.id()).toBe(7));
  expect(window.location.pathname).toBe("/papers/7");
  type(paper, "berth fee");
  await saved("berth fee");
  expect(server.asked.map((a) => [a.id, a.version])).toEqual([
    [undefined, 0],
    [7, 1],
  ]);
});

test("what is typed while a save is under way follows it, and arrives whole", async () => {
  let answer = () => {};
  const paper = open();
  server.instead = async () => {
    await new Promise<void>((go) => (answer = go));
    return server.fetch("/drafts?work=save", { body: JSON.stringify(server.asked[0]) });
  };
  type(paper, "first");
  await waitFor(() => expect(server.asked).toHaveLength(1), { timeout: 3000 });
  type(paper, "second");
  await new Promise((r) => setTimeout(r, 900));
  expect(server.asked).toHaveLength(1);
  answer();
  await saved("second");
  expect(server.asked.at(-1)).toMatchObject({ id: 7, version: 1 });
});

test("what is typed before the draft has its number, while saves are slow, is no copy of somebody else's", async () => {
  const waits: (() => void)[] = [];
  const slow = async (address: string, init: { body: string }) => {
    await new Promise<void>((go) => waits.push(go));
    return server.fetch(address, init);
  };
  vi.stubGlobal("fetch", slow);
  const paper = open();
  const asked = (count: number) =>
    waitFor(() => expect(waits).toHaveLength(count), { timeout: 3000 });
  type(paper, "first");
  await asked(1);
  type(paper, "second");
  await new Promise((r) => setTimeout(r, 900));
  // The draft has its number now, and the second save is under way.
  act(() => waits[0]!());
  await asked(2);
  type(paper, "third");
  await new Promise((r) => setTimeout(r, 900));
  act(() => waits.slice(1).forEach((go) => go()));
  await asked(3);
  act(() => waits[2]!());
  await saved("third");
  await waitFor(() => expect(paper.result.current.pending).toBe(false));
  expect(paper.result.current.stale).toBeNull();
  expect(server.asked.map((a) => a.version)).toEqual([0, 1, 2]);
});

test("deleted while its first save is under way, it is deleted and not made anew", async () => {
  let answer = () => {};
  const paper = open();
  server.instead = async () => {
    await new Promise<void>((go) => (answer = go));
    return server.fetch("/drafts?work=save", { body: JSON.stringify(server.asked[0]) });
  };
  type(paper, "a mistake");
  await waitFor(() => expect(server.asked).toHaveLength(1), { timeout: 3000 });
  const removed = paper.result.current.remove();
  answer();
  await act(() => removed);
  expect(server.asked.at(-1)).toMatchObject({ work: "delete", id: 7, version: 1 });
});

test("what the server does not take is kept in the browser, comes back after a reload, and goes when it is taken", async () => {
  const paper = open();
  server.instead = () => Promise.reject(new TypeError("no connection"));
  type(paper, "typed without a connection");
  await waitFor(() => expect(kept()).toContain("typed without a connection"), { timeout: 3000 });
  await waitFor(() => expect(paper.result.current.saved.tone).toBe("bad"));
  // The tab dies: nothing more is sent.
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no connection")));
  paper.unmount();
  vi.stubGlobal("fetch", server.fetch);
  const again = open();
  await waitFor(() => expect(again.result.current.header.note).toBe("typed without a connection"));
  await saved("typed without a connection");
  await waitFor(() => expect(kept()).toBe(""));
});

test("a session that has ended asks for the password; once it is given, what was typed is saved", async () => {
  const paper = open();
  const out = vi.fn();
  window.addEventListener(SIGNED_OUT, out);
  server.instead = () => new Response(null, { status: 401 });
  type(paper, "typed too long");
  await waitFor(() => expect(out).toHaveBeenCalled(), { timeout: 3000 });
  expect(kept()).toContain("typed too long");
  act(() => void window.dispatchEvent(new Event(SIGNED_IN)));
  await saved("typed too long");
});

test("a copy older than what is kept is told and not saved over, until somebody says so", async () => {
  const paper = open({ ...START, id: 7, version: 1 });
  server.version = 3;
  type(paper, "mine");
  await waitFor(() => expect(paper.result.current.stale).toBe("Somebody was faster."), {
    timeout: 3000,
  });
  expect([server.content, kept().includes("mine")]).toEqual([null, true]);
  act(() => paper.result.current.saveOver());
  await saved("mine");
  await waitFor(() => expect(paper.result.current.stale).toBeNull());
});

test("three fast clicks post once, what is seen and nothing older; deleting says which version was seen", async () => {
  const paper = open();
  type(paper, "to be posted");
  act(() => {
    for (let i = 0; i < 3; i++) void paper.result.current.finish("post");
  });
  await waitFor(() => expect(server.asked.some((a) => a.work === "post")).toBe(true));
  await new Promise((r) => setTimeout(r, 200));
  const posts = server.asked.filter((a) => a.work === "post");
  expect(posts).toMatchObject([{ id: 7, version: 1, content: { note: "to be posted" } }]);

  documents++;
  server.asked = [];
  const other = open({ ...START, id: 9, version: 4 });
  await act(() => other.result.current.remove());
  expect(server.asked).toMatchObject([{ work: "delete", id: 9, version: 4 }]);
});
