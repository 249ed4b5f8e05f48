"use client";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import type { Shortcut } from "@/server/ledger";
import type { Answer } from "@/app/lib/answer";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import {
  deleteShortcutAction,
  deleteTemplateAction,
  saveShortcutAction,
} from "../journals/actions";

/** Saved codings, typed as @name in an account cell, and the journals to start from. */
export function Shortcuts({
  company,
  rows,
  templates,
  dimensions,
  mayChange,
}: {
  company: string;
  rows: Shortcut[];
  templates: { id: number; name: string; savedBy: string; lines: number }[];
  dimensions: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const router = useRouter();
  const remove = async (job: () => Promise<Answer<unknown>>) => {
    const result = await job().catch(() => null);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success("Deleted.");
    router.refresh();
  };
  return (
    <RecordPage<Shortcut>
      title="Shortcuts and templates"
      note={`of ${company}; a shortcut is typed as @name in an account cell`}
      name="shortcuts"
      rows={rows}
      rowKey={(s) => String(s.id)}
      mayChange={mayChange}
      add="Add a shortcut"
      empty={
        <Empty title="No shortcut yet">
          Save one from a line that stands in a journal, or add one here.
        </Empty>
      }
      notice={
        templates.length > 0 && (
          <section className="panel max-h-44 shrink-0 overflow-auto" aria-label="Templates">
            <table className="sheet">
              <thead>
                <tr>
                  <th>Template</th>
                  <th className="num w-24">Lines</th>
                  <th className="w-44">Saved by</th>
                  <th className="w-24">
                    <span className="sr-only">Delete</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {templates.map((t) => (
                  <tr key={t.id}>
                    <td className="font-semibold">{t.name}</td>
                    <td className="num">{t.lines}</td>
                    <td>{t.savedBy}</td>
                    <td>
                      {mayChange && (
                        <button
                          type="button"
                          className="link"
                          onClick={() => void remove(() => deleteTemplateAction(t.id))}
                        >
                          Delete
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        )
      }
      columns={[
        { key: "name", header: "Shortcut", width: 190, value: (s) => `@${s.name}` },
        { key: "account", header: "Account", width: 110, value: (s) => s.account },
        ...dimensions.map((d) => ({
          key: d.code,
          header: d.name,
          width: 130,
          value: (s: Shortcut) => s.dimensions[d.code] ?? "",
        })),
        { key: "description", header: "Description", value: (s) => s.description },
        {
          key: "own",
          header: "Available to",
          width: 120,
          value: (s) => (s.own ? "mine" : "everybody's"),
        },
      ]}
      fields={[
        {
          key: "name",
          label: "Name",
          kind: "text",
          required: true,
          fixed: true,
          placeholder: "fuel-lantern",
        },
        { key: "account", label: "Account", kind: "text", required: true },
        ...dimensions.map((d) => ({ key: `d.${d.code}`, label: d.name, kind: "text" as const })),
        { key: "description", label: "Description", kind: "text" },
        { key: "shared", label: "For everybody in the company", kind: "check" },
      ]}
      toValues={(s) => ({
        name: s?.name ?? "",
        account: s?.account ?? "",
        description: s?.description ?? "",
        shared: s ? !s.own : false,
        ...Object.fromEntries(dimensions.map((d) => [`d.${d.code}`, s?.dimensions[d.code] ?? ""])),
      })}
      save={(v) =>
        saveShortcutAction({
          company,
          name: v.name,
          account: v.account,
          description: v.description,
          shared: v.shared,
          dimensions: Object.fromEntries(
            dimensions.flatMap((d) => (v[`d.${d.code}`] ? [[d.code, v[`d.${d.code}`]]] : [])),
          ),
        })
      }
      aside={(s) =>
        mayChange && (
          <button
            type="button"
            className="button button-plain"
            onClick={() => void remove(() => deleteShortcutAction(s.id))}
          >
            Delete this shortcut
          </button>
        )
      }
    />
  );
}
