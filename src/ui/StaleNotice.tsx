"use client";
import type { ReactNode } from "react";

interface Props {
  message: string;
  /** Posted meanwhile: what is there can be looked at, not written over. */
  gone: boolean;
  onShow: () => void;
  onSaveOver: () => void;
  children?: ReactNode;
}

/** Says that a document was changed or posted elsewhere, and offers what can be done about it. */
export function StaleNotice({ message, gone, onShow, onSaveOver, children }: Props) {
  return (
    <div role="alert" className="notice notice-bad flex items-center gap-3">
      <span className="flex-1">
        {message}
        {gone && " What you typed since is kept in this browser."}
      </span>
      {gone ? (
        <button type="button" className="button" onClick={onShow}>
          Show what was posted
        </button>
      ) : (
        <>
          {children}
          <button type="button" className="button" onClick={onSaveOver}>
            Save mine over it
          </button>
        </>
      )}
    </div>
  );
}
