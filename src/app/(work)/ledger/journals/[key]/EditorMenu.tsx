"use client";
import { useState } from "react";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Check, Ellipsis } from "lucide-react";
import { toast } from "sonner";
import type { GridRow } from "@/ui/grid/gridModel";
import { useWork } from "@/ui/frame/work";
import type { Template } from "@/server/ledger";
import { listTemplatesAction, saveShortcutAction, saveTemplateAction } from "../actions";
import type { Lookups, SpareColumn } from "./JournalEditor";
import type { useDraft } from "./useDraft";

interface Props {
  draft: ReturnType<typeof useDraft>;
  lookups: Lookups;
  /** The line that is being written. */
  row: GridRow | undefined;
  columns: Readonly<Record<SpareColumn, string>>;
  shown: (key: SpareColumn) => boolean;
  toggle: (key: SpareColumn) => void;
  movedOnly: boolean;
  onMovedOnly: () => void;
}
type Form =
  | { kind: "shortcut" | "template"; name: string; shared: boolean; amounts: boolean }
  | { kind: "choose"; templates: Template[] };

/** What is done with a draft now and then: templates, shortcuts, more columns, deleting. */
export function EditorMenu({
  draft,
  lookups,
  row,
  columns,
  shown,
  toggle,
  movedOnly,
  onMovedOnly,
}: Props) {
  const work = useWork();
  const [form, setForm] = useState<Form | null>(null);
  const item =
    "flex w-full items-center gap-2 rounded px-3 py-1.5 text-left data-focus:bg-sea-2 disabled:opacity-50";
  const save = async () => {
    if (!form || form.kind === "choose") return;
    const { header, content } = draft;
    const result =
      form.kind === "template"
        ? await saveTemplateAction({ name: form.name, amounts: form.amounts, content }).catch(
            () => null,
          )
        : await saveShortcutAction({
            company: header.company,
            name: form.name.replace(/^@/, ""),
            shared: form.shared,
            account: row?.account ?? "",
            description: row?.description ?? "",
            dimensions: Object.fromEntries(
              lookups.dimensions.flatMap((d) =>
                row?.[`d.${d.code}`] ? [[d.code, row[`d.${d.code}`]!]] : [],
              ),
            ),
          }).catch(() => null);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success(
      form.kind === "template"
        ? `Template “${form.name}” saved.`
        : `Type @${form.name.replace(/^@/, "")} in an account cell to use it, from the next journal on.`,
    );
    setForm(null);
  };
  const choose = async () => {
    const result = await listTemplatesAction(draft.header.company).catch(() => null);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The server did not answer. Try again.");
    setForm({ kind: "choose", templates: result.value });
  };
  if (form?.kind === "choose")
    return (
      <span className="flex items-center gap-2">
        {form.templates.length === 0 ? (
          <span className="text-ink-2">No template is saved yet.</span>
        ) : (
          <select
            autoFocus
            aria-label="Template"
            className="field w-64"
            defaultValue=""
            onChange={(e) => {
              const chosen = form.templates.find((t) => t.id === Number(e.target.value));
              if (!chosen) return;
              const { header } = draft;
              draft.replace({
                ...chosen.content,
                company: header.company,
                date: header.date,
                description: header.description.trim() || chosen.content.description,
              });
              setForm(null);
            }}
          >
            <option value="" disabled>
              Choose a template
            </option>
            {form.templates.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        )}
        <button type="button" className="button" onClick={() => setForm(null)}>
          Cancel
        </button>
      </span>
    );
  if (form)
    return (
      <form
        className="flex items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          void save();
        }}
      >
        <input
          autoFocus
          className="field w-48"
          aria-label={form.kind === "template" ? "Name of the template" : "Name of the shortcut"}
          placeholder={form.kind === "template" ? "Name of the template" : "fuel-lantern"}
          value={form.name}
          onChange={(e) => setForm({ ...form, name: e.target.value })}
        />
        {form.kind === "shortcut" && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={form.shared}
              onChange={(e) => setForm({ ...form, shared: e.target.checked })}
            />
            for everybody
          </label>
        )}
        {form.kind === "template" && (
          <label className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={form.amounts}
              onChange={(e) => setForm({ ...form, amounts: e.target.checked })}
            />
            with amounts
          </label>
        )}
        <button type="submit" className="button">
          Save
        </button>
        <button type="button" className="button" onClick={() => setForm(null)}>
          Cancel
        </button>
      </form>
    );
  return (
    <Menu>
      <MenuButton className="button" aria-label="More">
        <Ellipsis size={15} aria-hidden />
        More
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 w-64 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
      >
        <MenuItem>
          <button type="button" className={item} onClick={() => void choose()}>
            Start from a template
          </button>
        </MenuItem>
        {work.may("setup.shortcuts") && (
          <MenuItem>
            <button
              type="button"
              className={item}
              onClick={() =>
                setForm({
                  kind: "template",
                  name: draft.header.description,
                  shared: false,
                  amounts: true,
                })
              }
            >
              Save as a template
            </button>
          </MenuItem>
        )}
        {work.may("setup.shortcuts") && (
          <MenuItem disabled={!row?.account}>
            <button
              type="button"
              className={item}
              onClick={() => setForm({ kind: "shortcut", name: "", shared: false, amounts: false })}
            >
              Save this line&apos;s coding as a shortcut
            </button>
          </MenuItem>
        )}
        <div className="my-1 border-t border-line-2 px-3 pt-1.5 text-xs text-ink-3">Columns</div>
        {(Object.entries(columns) as [SpareColumn, string][]).map(([key, name]) => (
          <MenuItem key={key}>
            {({ close }) => (
              <button
                type="button"
                role="menuitemcheckbox"
                aria-checked={shown(key)}
                className={item}
                onClick={(e) => {
                  e.preventDefault();
                  toggle(key);
                  close();
                }}
              >
                <Check size={14} aria-hidden className={shown(key) ? "" : "opacity-0"} />
                {name}
              </button>
            )}
          </MenuItem>
        ))}
        <MenuItem>
          <button
            type="button"
            role="menuitemcheckbox"
            aria-checked={movedOnly}
            className={item}
            onClick={onMovedOnly}
          >
            <Check size={14} aria-hidden className={movedOnly ? "" : "opacity-0"} />
            Look up only accounts that have moved
          </button>
        </MenuItem>
      </MenuItems>
    </Menu>
  );
}
