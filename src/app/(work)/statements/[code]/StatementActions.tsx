"use client";
import Link from "next/link";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Download } from "lucide-react";
import { useWork } from "@/ui/frame/work";
import { AsKnown } from "@/ui/AsKnown";

export function StatementActions({
  code,
  layout,
  scale,
  kind,
}: {
  code: string;
  layout: string;
  scale: number;
  kind: string;
}) {
  const work = useWork();
  const other =
    code === "income-statement"
      ? { code: "balance-sheet", name: "Balance sheet" }
      : { code: "income-statement", name: "Income statement" };
  return (
    <>
      <Link
        className="button button-plain"
        href={work.link(`/statements/${other.code}`, { scale: String(scale) })}
      >
        {other.name}
      </Link>
      <AsKnown changes />
      <label className="flex items-center gap-1.5 text-ink-2">
        <span className="text-xs">Columns</span>
        <select
          className="field w-auto"
          value={layout}
          onChange={(e) =>
            work.go({ layout: e.target.value === "standard" ? null : e.target.value, trace: null })
          }
        >
          <option value="standard">
            {kind === "income" ? "Period and year" : "Period and prior year"}
          </option>
          <option value="months">Months</option>
          <option value="quarters">Quarters</option>
          <option value="years">Years</option>
        </select>
      </label>
      <label className="flex items-center gap-1.5 text-ink-2">
        <span className="text-xs">Scale</span>
        <select
          className="field w-auto"
          value={scale}
          onChange={(e) => work.go({ scale: e.target.value })}
        >
          <option value="1">exact</option>
          <option value="1000">thousands</option>
          <option value="1000000">millions</option>
        </select>
      </label>
      <ExportMenu
        path={`/export/statements/${code}`}
        formats={["csv", "xlsx", "pdf"]}
        more={{ layout, scale: String(scale) }}
      />
    </>
  );
}

/** A report as a file, made on the server from the same figures. */
export function ExportMenu({
  path,
  formats,
  more = {},
  label = "Export",
}: {
  path: string;
  formats: readonly string[];
  more?: Record<string, string | null>;
  label?: string;
}) {
  const work = useWork();
  return (
    <Menu>
      <MenuButton className="button">
        <Download size={15} aria-hidden />
        {label}
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
      >
        {formats.map((format) => (
          <MenuItem key={format}>
            <a
              className="block w-full rounded px-3 py-1.5 text-left data-focus:bg-sea-2"
              href={work.link(path, { ...more, format })}
              download
            >
              {format.toUpperCase()}
            </a>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
