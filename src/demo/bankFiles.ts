import { mkdir, utimes, writeFile } from "node:fs/promises";
import path from "node:path";
import type { CalendarDate, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { saveBankFolder, takeFolder } from "@/server/banks";
import { booksBankFolder } from "@/server/runtime";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;

/** What the bank has sent broken off: the lines do not come to what it closes with. */
const BROKEN = `:20:HSF20261105
:25:IE04ZZZZ99999950000001
:28C:213/1
:60F:C261104EUR1000,00
:61:2611051105C250,00NTRFX-1
:86:first page of two
:62F:C261105EUR1980,00
-
`;

/** The folder into which banks put files is watched; one file of it was refused this morning. */
export async function addBankFiles(
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const treasury = await as("treasury", "2026-11-05", 7);
  must(await saveBankFolder(treasury, { on: true }), "folder of bank files");
  const folder = booksBankFolder();
  await mkdir(folder, { recursive: true });
  const file = path.join(folder, "ostry-2026-11-05-page-1.sta");
  await writeFile(file, BROKEN);
  const morning = new Date("2026-11-05T06:40:00Z");
  await utimes(file, morning, morning);
  await takeFolder(treasury.database, folder, treasury.now);
}
