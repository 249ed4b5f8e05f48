"use client";
import { Paperclip, Trash2 } from "lucide-react";
import type { ReactNode } from "react";

interface Props {
  onDelete: () => void;
  /** Whether the papers stand beside it. */
  papers: boolean;
  onPapers: () => void;
  onCheck: () => void;
  /** Who has to approve it; null where nobody has to. */
  approval: string | null;
  mayPost: boolean;
  posting: boolean;
  onFinish: (what: "post" | "submit") => void;
  /** What its kind offers besides. */
  children?: ReactNode;
}

/** What can be done with a trade document while it is written. */
export function PaperActions(p: Props) {
  return (
    <>
      <button
        type="button"
        className="button button-plain"
        aria-label="Delete this draft"
        title="Delete this draft"
        onClick={p.onDelete}
      >
        <Trash2 size={15} aria-hidden />
      </button>
      {p.children}
      <button type="button" className="button" aria-expanded={p.papers} onClick={p.onPapers}>
        <Paperclip size={15} aria-hidden />
        Papers
      </button>
      <button type="button" className="button" onClick={p.onCheck} data-keys="Ctrl Enter=Check">
        Check <kbd>Ctrl ⏎</kbd>
      </button>
      {p.approval ? (
        <button
          type="button"
          className="button button-main"
          title={`${p.approval}.`}
          disabled={p.posting}
          onClick={() => p.onFinish("submit")}
          data-keys="Ctrl Shift Enter=Send for approval"
        >
          Send for approval <kbd>Ctrl ⇧ ⏎</kbd>
        </button>
      ) : (
        p.mayPost && (
          <button
            type="button"
            className="button button-main"
            disabled={p.posting}
            onClick={() => p.onFinish("post")}
            data-keys="Ctrl Shift Enter=Post"
          >
            Post <kbd>Ctrl ⇧ ⏎</kbd>
          </button>
        )
      )}
    </>
  );
}
