"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { rangesText, type LineKind, type OutlineLine } from "@/core/statements";
import type { OutlineView } from "@/server/statements";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { shownDate } from "@/ui/writing";

const KINDS: Record<LineKind, string> = {
  accounts: "accounts",
  total: "total of lines",
  heading: "heading",
  result: "result of the year",
  uncarried: "results not yet carried",
};

/** The lines of a statement: which accounts each catches, or which lines it adds up. */
export function OutlineLines({
  outline,
  all,
  mayChange,
}: {
  outline: OutlineView;
  all: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const router = useRouter();
  const lines = outline.lines;
  const before = (line: OutlineLine): string =>
    lines[lines.findIndex((l) => l.code === line.code) - 1]?.code ?? "";
  const remove = async (line: OutlineLine) => {
    const result = await saveRecordAction("outlineLine", {
      outline: outline.code,
      version: outline.version,
      code: line.code,
      remove: true,
    }).catch(() => null);
    if (!result?.ok) return toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success(`${line.label} is out of the draft; earlier versions keep it.`);
    router.refresh();
  };
  const decide = async (kind: "outlineUsed" | "outlineDropped", done: string) => {
    const result = await saveRecordAction(kind, {
      outline: outline.code,
      version: outline.version,
    }).catch(() => null);
    if (!result?.ok) return toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success(done);
    router.refresh();
  };
  const gaps = [
    ...outline.uncaught.map((a) => `${a} is on no line`),
    ...outline.caughtTwice.map((a) => `${a} is on two lines`),
  ];
  return (
    <RecordPage<OutlineLine>
      title={outline.name}
      note={`outline, version ${outline.version}${outline.savedBy ? `, by ${outline.savedBy} on ${shownDate(outline.savedAt.slice(0, 10))}` : ""}`}
      name="outline"
      rows={lines}
      rowKey={(l) => l.code}
      mayChange={mayChange}
      add="Add a line"
      notice={
        <>
          {outline.draft && (
            <div className="notice flex items-center gap-3">
              <span className="flex-1">
                A draft: statements are made by version {outline.used} until this one is used.
              </span>
              {mayChange && (
                <>
                  <button
                    type="button"
                    className="button button-main"
                    onClick={() =>
                      void decide("outlineUsed", "Statements are made by it from now on.")
                    }
                  >
                    Use it
                  </button>
                  <button
                    type="button"
                    className="button"
                    onClick={() => void decide("outlineDropped", "The changes are dropped.")}
                  >
                    Drop the changes
                  </button>
                </>
              )}
            </div>
          )}
          <Problems
            messages={
              gaps.length > 0
                ? [
                    `${gaps.slice(0, 4).join("; ")}${gaps.length > 4 ? ` and ${gaps.length - 4} more` : ""}.`,
                  ]
                : []
            }
          />
        </>
      }
      empty={<Empty title="No line yet">Add the first.</Empty>}
      actions={
        <>
          <select
            aria-label="Outline"
            className="field w-44"
            value={outline.code}
            onChange={(e) => work.go({ outline: e.target.value })}
          >
            {all.map((o) => (
              <option key={o.code} value={o.code}>
                {o.name}
              </option>
            ))}
          </select>
          <Link className="button" href={work.link(`/statements/${outline.code}`)}>
            See the statement
          </Link>
        </>
      }
      columns={[
        {
          key: "label",
          header: "Line",
          value: (l) => l.label,
          cell: (l) => (
            <span
              className={l.kind === "accounts" ? "" : "font-semibold"}
              style={{ paddingLeft: l.level * 16 }}
            >
              {l.label}
            </span>
          ),
        },
        { key: "code", header: "Code", width: 190, value: (l) => l.code },
        { key: "kind", header: "Kind", width: 150, value: (l) => KINDS[l.kind] },
        {
          key: "of",
          header: "Accounts, or lines added up",
          value: (l) => (l.kind === "total" ? (l.of ?? []).join(", ") : rangesText(l)),
        },
        { key: "positive", header: "Positive sign", width: 113, value: (l) => l.positive },
      ]}
      fields={[
        { key: "label", label: "Label", kind: "text", required: true },
        {
          key: "code",
          label: "Code",
          kind: "text",
          required: true,
          fixed: true,
          hint: "Small letters, figures and dashes; it stays.",
        },
        {
          key: "kind",
          label: "Kind",
          kind: "select",
          options: Object.entries(KINDS)
            .filter(([k]) => outline.kind === "position" || (k !== "result" && k !== "uncarried"))
            .map(([value, text]) => ({ value, text })),
        },
        {
          key: "ranges",
          label: "Accounts",
          kind: "text",
          placeholder: "5000-5199, 5300",
          hint: "For a line over accounts.",
        },
        {
          key: "of",
          label: "Lines added up",
          kind: "text",
          placeholder: "revenue, fuel",
          hint: "For a total: the codes of its lines.",
        },
        {
          key: "positive",
          label: "Shows positive",
          kind: "select",
          options: [
            { value: "credit", text: "credit" },
            { value: "debit", text: "debit" },
          ],
        },
        {
          key: "level",
          label: "Indent",
          kind: "select",
          options: [0, 1, 2, 3].map((n) => ({ value: String(n), text: String(n) })),
        },
        {
          key: "rule",
          label: "Ruled",
          kind: "select",
          options: [
            { value: "", text: "no" },
            { value: "single", text: "above" },
            { value: "double", text: "twice below" },
          ],
        },
        {
          key: "after",
          label: "Stands",
          kind: "select",
          options: [
            { value: "", text: "first" },
            ...lines.map((l) => ({ value: l.code, text: `after ${l.label}` })),
          ],
        },
      ]}
      toValues={(l) => ({
        label: l?.label ?? "",
        code: l?.code ?? "",
        kind: l?.kind ?? "accounts",
        ranges: l ? rangesText(l) : "",
        of: (l?.of ?? []).join(", "),
        positive: l?.positive ?? "credit",
        level: String(l?.level ?? 1),
        rule: l?.rule ?? "",
        after: l ? before(l) : (lines.at(-1)?.code ?? ""),
      })}
      save={(v) =>
        saveRecordAction("outlineLine", {
          ...v,
          level: Number(v.level),
          outline: outline.code,
          version: outline.version,
        })
      }
      aside={(line) =>
        mayChange && (
          <button type="button" className="button button-plain" onClick={() => void remove(line)}>
            Take this line out
          </button>
        )
      }
    />
  );
}
