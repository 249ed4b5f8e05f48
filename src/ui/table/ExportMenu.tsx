"use client";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Download } from "lucide-react";
import { exportCsv, exportXlsx, type ExportCell } from "./exportTable";

/** Saves a table as it is shown. Amounts stay amounts: minor units with their currency. */
export function ExportMenu({
  name,
  headers,
  rows,
}: {
  name: string;
  headers: readonly string[];
  rows: readonly (readonly ExportCell[])[];
}) {
  return (
    <Menu>
      <MenuButton className="button button-plain h-7" aria-label="Export what is shown">
        <Download size={15} aria-hidden />
        Export
      </MenuButton>
      <MenuItems
        anchor="bottom end"
        className="z-30 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
      >
        {(["CSV", "XLSX"] as const).map((format) => (
          <MenuItem key={format}>
            <button
              type="button"
              className="block w-full rounded px-3 py-1.5 text-left data-focus:bg-sea-2"
              onClick={() => (format === "CSV" ? exportCsv : exportXlsx)(name, headers, rows)}
            >
              {format}
            </button>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
