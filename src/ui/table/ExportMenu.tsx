"use client";
import { useState } from "react";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Download } from "lucide-react";
import { useWorkIfAny, type Work } from "../frame/work";
import { exportCsv, exportXlsx, type ExportCell } from "./exportTable";

/** Saves a table as it is shown, the whole of it. Amounts stay amounts with their currency. */
export function ExportMenu({
  name,
  headers,
  rows,
  read = () => Promise.resolve(rows ?? []),
}: {
  name: string;
  headers: readonly string[];
  rows?: readonly (readonly ExportCell[])[];
  /** Reads all rows, where they are not here; says meanwhile how far it is. */
  read?: (onProgress: (read: number) => void) => Promise<readonly (readonly ExportCell[])[]>;
}) {
  const work = useWorkIfAny();
  const [done, setDone] = useState<number | null>(null);
  const [failed, setFailed] = useState(false);
  const save = async (write: typeof exportCsv | typeof exportXlsx) => {
    setDone(0);
    setFailed(false);
    try {
      await write(name, headers, await read(setDone), headOf(work));
    } catch {
      setFailed(true);
    } finally {
      setDone(null);
    }
  };
  return (
    <>
      {failed && (
        <span role="alert" className="text-coral">
          The server did not answer; nothing was saved.
        </span>
      )}
      <Menu>
        <MenuButton
          className="button button-plain h-7"
          aria-label="Export the list"
          disabled={done !== null}
        >
          <Download size={15} aria-hidden />
          {done ? `${done.toLocaleString("en")} rows read` : "Export"}
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
                onClick={() => void save(format === "CSV" ? exportCsv : exportXlsx)}
              >
                {format}
              </button>
            </MenuItem>
          ))}
        </MenuItems>
      </Menu>
    </>
  );
}

/** What a file says of itself: the page, the company, book and period, when, and by whom. */
function headOf(work: Work | null): string[] {
  if (!work) return [];
  const { company, place, person } = work;
  const named = (key: string) => {
    const period = company?.periods.find((p) => p.key === key);
    return period ? `${period.name} ${period.year}` : key;
  };
  const periods =
    place.from && place.from !== place.period
      ? `${named(place.from)} to ${named(place.period)}`
      : named(place.period);
  return [
    document.querySelector("h1")?.textContent ?? "",
    [company?.name, place.book, periods, company?.currency].filter(Boolean).join(" · "),
    `Made ${new Date().toISOString().slice(0, 16).replace("T", " ")} UTC by ${person.name}`,
  ];
}
