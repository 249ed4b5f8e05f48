import { useRouter } from "next/navigation";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { decodeJson } from "@/core/shared";
import type { ShownProblem } from "@/server/ledger";
import type { Answer } from "./answer";
import { SIGNED_IN, SIGNED_OUT } from "@/ui/frame/SignInAgain";
import { useWork } from "@/ui/frame/work";
import { copyOf, rememberCopy, rememberUnderWay, underWay } from "./windowCopies";
import { startHistory, type GridHistory, type GridRow } from "@/ui/grid/gridModel";
import { shownSentence } from "@/ui/writing";

/** What a draft of any kind is made of: a head, and lines written in a grid. */
export interface Written {
  company: string;
  lines: readonly unknown[];
}
export type HeadOf<C extends Written> = Omit<C, "lines">;
/** What the server says of a draft: at least what stands against it. */
export interface Checked {
  problems: ShownProblem[];
}
export interface StartOfDraft<C extends Written, K extends Checked> {
  id: number | null;
  version: number;
  content: C;
  savedAt: string | null;
  check: K | null;
}
/**
 * A kind of draft: the works that keep it, its page, and how its lines become rows of a grid and
 * back.
 */
export interface DraftKind<C extends Written> {
  name: string;
  works: { save: DraftWork; post: DraftWork; submit: DraftWork; delete: DraftWork };
  page: string;
  /** What stands before the number when it is done; "Posted as" where nothing is said. */
  done?: string;
  toRows: (content: C) => GridRow[];
  toContent: (head: HeadOf<C>, rows: readonly GridRow[]) => C;
  /** Content that comes from outside, brought to its full shape. */
  whole: (content: C) => C;
}
export type DraftWork =
  | "save"
  | "post"
  | "delete"
  | "submit"
  | "invoice-save"
  | "invoice-post"
  | "invoice-submit"
  | "invoice-delete"
  | "sale-save"
  | "sale-post"
  | "sale-submit"
  | "sale-delete"
  | "order-save"
  | "order-post"
  | "order-submit"
  | "order-delete"
  | "load";

/** Fields of a head whose element goes by another name than the field. */
const HEADS: Readonly<Record<string, string>> = {
  date: "journal-date",
  reverseOn: "reverses-on",
};

class SessionEnded extends Error {}

/** A draft as it was kept in this browser, with the version of the server's that it rests on. */
interface Backup<C> {
  content: C;
  version: number;
}

/**
 * Asks the server, apart from the router, which would drop what is under way when the address
 * changes.
 */
export async function askDrafts<T>(work: DraftWork, input: unknown): Promise<Answer<T>> {
  const body = JSON.stringify(input);
  const response = await fetch(`/drafts?work=${work}`, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body,
    keepalive: body.length < 60_000,
  });
  if (response.status === 401) {
    window.dispatchEvent(new Event(SIGNED_OUT));
    throw new SessionEnded();
  }
  if (!response.ok) throw new Error(`drafts: ${response.status}`);
  return decodeJson<Answer<T>>(await response.text());
}

const headOf = <C extends Written>({ lines: _lines, ...head }: C): HeadOf<C> => head;

/**
 * A document while it is written: it keeps itself, comes back after a lost connection, tells a
 * stale copy, and posts what is seen. `more` goes along with the first save.
 */
export function useKeptDraft<C extends Written, K extends Checked>(
  kind: DraftKind<C>,
  start: StartOfDraft<C, K>,
  more: Record<string, unknown> = {},
) {
  const work = useWork();
  const router = useRouter();
  const [first] = useState<HeadOf<C>>(() => headOf(start.content));
  const [header, setHeader] = useState<HeadOf<C>>(first);
  const [withFirst] = useState(more);
  /** Each change of it leads to the first problem in the lines. */
  const [attention, setAttention] = useState(0);
  const backupKey = useCallback(
    (id: number | null, company: string) => `${kind.name}.${id ?? `new.${company}`}`,
    [kind.name],
  );
  /** The content that the server has, as the object that was sent. */
  const [kept, setKept] = useState<C | null>(null);
  const [history, setHistory] = useState<GridHistory>(() =>
    startHistory(kind.toRows(start.content)),
  );
  const [saved, setSaved] = useState<{ text: string; tone?: "bad" | undefined }>({
    text: start.savedAt ? `saved ${start.savedAt.slice(11, 16)}` : "not saved yet",
  });
  const [check, setCheck] = useState<K | null>(start.check);
  const [asked, setAsked] = useState(false);
  const [refused, setRefused] = useState<ShownProblem[] | null>(null);
  const [stale, setStale] = useState<string | null>(null);
  /** Posted meanwhile: nothing can be saved over it. */
  const [gone, setGone] = useState(false);
  const [posting, setPosting] = useState(false);
  const finishing = useRef(false);
  const draft = useRef({ id: start.id, version: start.version });
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const dirty = useRef(false);
  const closed = useRef(false);
  /** Whether something stands on the screen that the server does not have. */
  const waiting = useRef(false);
  const { rows } = history;
  /** The rows that a content was made of, so that what is found in it is shown at its rows. */
  const rowsOf = useRef(new WeakMap<C, readonly GridRow[]>());
  const [checked, setChecked] = useState<readonly GridRow[] | undefined>(undefined);
  /** Whatever the server does not take stays in this browser until it does. */
  const backUp = useCallback(
    (content: C) => {
      const kept: Backup<C> = { content, version: draft.current.version };
      localStorage.setItem(backupKey(draft.current.id, content.company), JSON.stringify(kept));
    },
    [backupKey],
  );

  const save = useCallback(
    (content: C, overwrite = false) => {
      // One after the other: a later save carries the version that the earlier one made.
      const { id } = draft.current;
      // Also after those that were asked for before the draft had its number.
      const before = Promise.all([queue.current, id === null ? null : underWay(kind.name, id)]);
      const job = before.then(async () => {
        if (closed.current) return null;
        const newest = draft.current.id === null ? undefined : copyOf(kind.name, draft.current.id);
        if (newest && newest.version > draft.current.version)
          draft.current.version = newest.version;
        try {
          const result = await askDrafts<K & { id: number; version: number; savedAt: string }>(
            kind.works.save,
            {
              ...(draft.current.id === null ? withFirst : { id: draft.current.id }),
              version: draft.current.version,
              overwrite,
              content,
            },
          );
          if (!result.ok) {
            const old = result.problems.find((p) => p.code === "STALE");
            const posted = result.problems.find((p) => p.code === "ALREADY_POSTED");
            if (old ?? posted) setStale((old ?? posted)!.message);
            if (posted) setGone(true);
            backUp(content);
            setSaved({
              text: `not saved, kept in this browser: ${result.message}`,
              tone: "bad",
            });
            return null;
          }
          const first = draft.current.id === null;
          draft.current = { id: result.value.id, version: result.value.version };
          if (first) {
            rememberUnderWay(kind.name, result.value.id, queue.current);
            window.history.replaceState(
              null,
              "",
              `${kind.page}/${result.value.id}${window.location.search}`,
            );
          }
          localStorage.removeItem(backupKey(first ? null : result.value.id, content.company));
          rememberCopy(kind.name, result.value.id, { version: result.value.version, content });
          setStale(null);
          setKept(content);
          setChecked(rowsOf.current.get(content));
          setCheck(result.value);
          setRefused(null);
          setSaved({ text: `saved ${result.value.savedAt.slice(11, 16)}` });
          return result.value;
        } catch (error) {
          backUp(content);
          setSaved({
            text:
              error instanceof SessionEnded
                ? "your session has ended; kept in this browser and saved once you have signed in"
                : "no connection; kept in this browser and saved when it is back",
            tone: "bad",
          });
          dirty.current = true;
          return null;
        }
      });
      queue.current = job;
      if (id !== null) rememberUnderWay(kind.name, id, job);
      return job;
    },
    [kind, withFirst, backupKey, backUp],
  );

  /** Another content instead of what is on the screen, as one step that can be undone. */
  const show = useCallback(
    (content: C) => {
      setHeader(headOf(content));
      setHistory((h) => ({ rows: kind.toRows(content), past: [...h.past, h.rows], future: [] }));
    },
    [kind],
  );
  // A save of this window that the page's start does not know yet.
  useEffect(() => {
    const { id } = start;
    if (id === null) return;
    void underWay(kind.name, id).then(() => {
      const newest = copyOf(kind.name, id);
      if (!newest || newest.version <= draft.current.version) return;
      draft.current.version = newest.version;
      if (!waiting.current) show(newest.content as C);
    });
  }, [start, kind, show]);

  // What a lost connection kept here comes back, before anything else is typed.
  // Once: what is refused later is on the screen already.
  const offered = useRef(false);
  useEffect(() => {
    if (offered.current) return;
    offered.current = true;
    const kept = localStorage.getItem(backupKey(start.id, start.content.company));
    if (!kept) return;
    queueMicrotask(() => {
      try {
        const { content: written, version } = JSON.parse(kept) as Backup<C>;
        const content = kind.whole(written);
        // A save that was under way when the page was left may have arrived all the same.
        if (JSON.stringify(content) === JSON.stringify(kind.whole(start.content)))
          return localStorage.removeItem(backupKey(start.id, start.content.company));
        const take = () => {
          show(content);
          dirty.current = true;
        };
        if (version === start.version) {
          take();
          toast("What you typed and the server had not taken is back.");
        } else
          toast("What you typed here was not saved, and this draft was changed since.", {
            duration: Infinity,
            action: { label: "Show what I typed", onClick: take },
            cancel: {
              label: "Discard it",
              onClick: () => localStorage.removeItem(backupKey(start.id, start.content.company)),
            },
          });
      } catch {
        localStorage.removeItem(backupKey(start.id, start.content.company));
      }
    });
  }, [start.id, start.version, start.content, kind, backupKey, show]);

  const content = useMemo(() => kind.toContent(header, rows), [kind, header, rows]);
  useLayoutEffect(() => {
    rowsOf.current.set(content, rows);
  });
  // Whether something stands on the screen that the server does not have yet.
  const pending = kept === null ? header !== first || history.past.length > 0 : kept !== content;
  useLayoutEffect(() => {
    waiting.current = pending;
  });
  const latest = useRef(content);
  useLayoutEffect(() => {
    latest.current = content;
  });
  const mounted = useRef(false);
  useEffect(() => {
    if (!mounted.current) {
      mounted.current = true;
      return;
    }
    dirty.current = true;
    const timer = setTimeout(() => {
      dirty.current = false;
      void save(content);
    }, 700);
    return () => clearTimeout(timer);
  }, [content, save]);
  useEffect(() => {
    const retry = setInterval(() => {
      if (
        dirty.current &&
        navigator.onLine &&
        localStorage.getItem(backupKey(draft.current.id, latest.current.company))
      ) {
        dirty.current = false;
        void save(latest.current);
      }
    }, 5000);
    const warn = () =>
      (dirty.current || waiting.current) && !closed.current && backUp(latest.current);
    const again = () => {
      if (!localStorage.getItem(backupKey(draft.current.id, latest.current.company))) return;
      dirty.current = false;
      void save(latest.current);
    };
    window.addEventListener("beforeunload", warn);
    window.addEventListener(SIGNED_IN, again);
    return () => {
      clearInterval(retry);
      window.removeEventListener("beforeunload", warn);
      window.removeEventListener(SIGNED_IN, again);
      // Leaving within the pause before a save must not lose what was typed in it.
      if (dirty.current) void save(latest.current);
    };
  }, [save, backupKey, backUp]);

  /** The first problem gets the focus: in the head, where it has its place there, else in the lines. */
  const found = useMemo(
    () => (check?.problems ?? []).map((p) => ({ ...p, message: shownSentence(p.message) })),
    [check],
  );
  const attend = useCallback((problems: readonly ShownProblem[]) => {
    const head = problems.find((p) => p.line === null && p.field);
    const field = head && document.getElementById(`head-${HEADS[head.field!] ?? head.field!}`);
    if (field) field.focus();
    else if (problems.some((p) => p.line !== null)) setAttention((n) => n + 1);
  }, []);

  const runCheck = useCallback(async () => {
    setAsked(true);
    dirty.current = false;
    const result = await save(latest.current);
    if (!result) return;
    if (result.problems.length === 0) toast.success("Nothing stands in the way of posting.");
    else attend(result.problems);
  }, [save, attend]);
  const settle = useCallback(async () => {
    dirty.current = false;
    if (draft.current.id === null && !(await save(latest.current))) return false;
    await queue.current;
    return true;
  }, [save]);
  /**
   * Posts, or sends for approval: what is seen goes, and what stands against it shows at its place.
   */
  const finish = useCallback(
    async (what: "post" | "submit") => {
      // Known at once, and not only when the page is drawn anew.
      if (finishing.current) return;
      finishing.current = true;
      setPosting(true);
      setAsked(true);
      try {
        if (!(await settle())) return;
        const result = await askDrafts<{ id: number; number: string; note?: string }>(
          kind.works[what],
          { id: draft.current.id, version: draft.current.version, content: latest.current },
        );
        const before = result.ok ? null : result.problems.find((p) => p.code === "ALREADY_POSTED");
        if (result.ok || before) {
          closed.current = true;
          if (result.ok && result.value.note) toast(result.value.note);
          else
            toast.success(
              result.ok
                ? what === "post"
                  ? `${kind.done ?? "Posted as"} ${result.value.number}.`
                  : "Sent for approval."
                : before!.message,
            );
          router.push(work.link(`${kind.page}/${draft.current.id}`));
          router.refresh();
        } else {
          setRefused(result.problems);
          setChecked(rowsOf.current.get(latest.current));
          attend(result.problems);
          toast.error(
            `Not ${what === "post" ? "posted" : "sent"}: ${result.problems.length === 1 ? result.message : `${result.problems.length} problems`}`,
          );
          const old = result.problems.find((p) => p.code === "STALE");
          if (old) setStale(old.message);
        }
      } catch (error) {
        if (error instanceof SessionEnded) return;
        // The answer was lost, not the journal: asking again finds it posted or posts it.
        toast.error("The server did not answer. Post again: if it was posted, that will be found.");
      } finally {
        finishing.current = false;
        setPosting(false);
      }
    },
    [kind, router, settle, work, attend],
  );
  const remove = useCallback(async () => {
    closed.current = true;
    // A save that is under way would make it anew, or change the version that is deleted.
    await queue.current;
    if (draft.current.id !== null) {
      const result = await askDrafts(kind.works.delete, {
        id: draft.current.id,
        version: draft.current.version,
      });
      if (!result.ok) {
        closed.current = false;
        return void toast.error(result.message);
      }
    }
    localStorage.removeItem(backupKey(draft.current.id, latest.current.company));
    toast("Draft deleted. Its content stays in the history.");
    router.push(work.link(kind.page));
    router.refresh();
  }, [kind, router, work, backupKey]);
  const set = useCallback(
    <F extends keyof HeadOf<C>>(key: F, value: HeadOf<C>[F]) =>
      setHeader((h) => ({ ...h, [key]: value })),
    [],
  );
  const id = useCallback(() => draft.current.id, []);

  return {
    id,
    header,
    setHeader,
    set,
    history,
    setHistory,
    rows,
    saved: pending && !saved.tone ? { text: "saving …" } : saved,
    pending,
    check,
    stale,
    gone,
    showPosted: () => router.refresh(),
    attention,
    checked,
    posting,
    content,
    problems: refused ?? (asked ? found : []),
    saveOver: () => void save(latest.current, true),
    runCheck,
    finish,
    remove,
    replace: show,
    settle,
  };
}
