import type { ReactNode } from "react";
import { PlaceLine } from "./frame/PlaceLine";

/** A screen: optional strip, title line, worksheet, fixed footer, and the panel at the right. */
export function Page({
  strip,
  title,
  status,
  note,
  actions,
  children,
  footer,
  panel,
}: {
  strip?: ReactNode;
  title: ReactNode;
  status?: ReactNode;
  note?: ReactNode;
  actions?: ReactNode;
  children: ReactNode;
  footer?: ReactNode;
  panel?: ReactNode;
}) {
  return (
    <div className="grid h-full min-h-0 grid-rows-[44px_minmax(0,1fr)] print:block">
      <PlaceLine strip={strip} />
      <div className="relative flex min-h-0 print:block">
        <div className="grid min-h-0 min-w-0 flex-1 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_auto]">
          <div className="print-flow flex min-h-0 flex-col gap-2.5 px-4 pb-3 pt-3.5">
            <div className="flex min-h-[31px] flex-wrap items-center gap-x-3 gap-y-1.5">
              <h1
                className="max-w-full truncate"
                title={typeof title === "string" ? title : undefined}
              >
                {title}
              </h1>
              {status}
              {note && <span className="min-w-0 max-w-[60%] truncate text-ink-3">{note}</span>}
              <span className="no-print ml-auto flex flex-wrap items-center justify-end gap-2">
                {actions}
              </span>
            </div>
            {children}
          </div>
          {footer && (
            <div className="flex min-h-[56px] items-center gap-[26px] border-t border-line bg-panel px-4 py-2">
              {footer}
            </div>
          )}
        </div>
        {panel}
      </div>
    </div>
  );
}

/** A headline figure in a footer. */
export function Fact({
  label,
  children,
  tone,
  apart,
}: {
  label: string;
  children: ReactNode;
  tone?: "bad" | "good";
  apart?: boolean;
}) {
  return (
    <div className={apart ? "border-l border-line pl-[26px]" : ""}>
      <div className="whitespace-nowrap text-xs text-ink-2">{label}</div>
      <div
        className={`whitespace-nowrap text-[15px] font-bold ${tone === "bad" ? "text-coral" : tone === "good" ? "text-moss" : ""}`}
      >
        {children}
      </div>
    </div>
  );
}

/** What belongs here, and the way to it. */
export function Empty({ title, children }: { title: string; children?: ReactNode }) {
  return (
    <div className="grid flex-1 place-items-center p-10 text-center">
      <div className="max-w-md">
        <h2 className="mb-1">{title}</h2>
        <div className="text-ink-2">{children}</div>
      </div>
    </div>
  );
}

/** Sentences that say what is wrong and what to do. */
export function Problems({ messages }: { messages: readonly string[] }) {
  if (messages.length === 0) return null;
  return (
    <div role="alert" className="notice notice-bad">
      {messages.map((m, i) => (
        <p key={i}>{m}</p>
      ))}
    </div>
  );
}
