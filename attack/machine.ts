import { readFileSync } from "node:fs";
import { connect } from "node:net";
import { strToU8, zipSync } from "fflate";
import { Client } from "./client";
import type { Scene } from "./people";
import { outcome, type Outcome } from "./report";

const AREA = "the machine";
const MB = 1_048_576;

export interface MachineOptions {
  /** Megabytes of the files that are read. */
  size: number;
  /** The process of the server, for its memory; unknown where it is another machine. */
  pid: number | null;
  /** Whether requests that never end are waited for. */
  patient: boolean;
}

/** Files that are made to hurt, and ordinary ones that are only large. */
export async function attackMachine(
  scene: Scene,
  { size, pid, patient }: MachineOptions,
): Promise<Outcome[]> {
  const outcomes: Outcome[] = [];
  for (const [name, bytes] of outsideFiles(size))
    outcomes.push(...(await readUnder(scene, name, bytes, pid)));
  outcomes.push(await largeBody(scene.base));
  if (patient) outcomes.push(await unfinished(scene.base));
  return outcomes;
}

const sheet = (rows: string) =>
  zipSync({
    "xl/workbook.xml": strToU8(
      `<workbook xmlns:r="r"><sheets><sheet name="A" r:id="1"/></sheets></workbook>`,
    ),
    "xl/_rels/workbook.xml.rels": strToU8(
      `<Relationships><Relationship Id="1" Target="worksheets/sheet1.xml"/></Relationships>`,
    ),
    "xl/worksheets/sheet1.xml": strToU8(`<worksheet><sheetData>${rows}</sheetData></worksheet>`),
  });

/** Files from outside by name: large ones of `size` megabytes, and small ones that are made to hurt. */
export function outsideFiles(size: number): [string, Uint8Array][] {
  const line = "2026-11-03,6310,HARB,12.50,,Fuel for the crossing\n";
  const rows = Math.min(99_000, Math.floor((size * MB) / line.length));
  const wide = Math.floor((size * MB) / rows / line.length) || 1;
  const long = line.trimEnd().padEnd(line.length * wide, "x");
  const blank = `<row><c><v>1</v></c></row>`;
  return [
    [`${size} MB of rows`, strToU8(`${long}\n`.repeat(rows))],
    [`${size} MB of blanks`, strToU8(`a${" ".repeat(size * MB - 2)}b`)],
    [`${size} MB of quotes`, strToU8(`a,${'"'.repeat(size * MB - 3)}`)],
    ["a small workbook that unpacks to gigabytes", sheet(" ".repeat(400 * MB))],
    [
      "a workbook with a validation over all cells",
      sheet(`${blank}</sheetData><dataValidation sqref="A1:XFD1048576"/><sheetData>`.repeat(2_000)),
    ],
    [
      "a workbook of merged columns",
      sheet(
        `${blank.repeat(5_000)}</sheetData>${`<mergeCell ref="A1:XFD1048576"/>`.repeat(5_000)}<sheetData>`,
      ),
    ],
  ];
}

/** Another person's page while a file is read, against the same page before; and the memory. */
async function readUnder(
  { accountant, controller, other }: Scene,
  name: string,
  bytes: Uint8Array,
  pid: number | null,
): Promise<Outcome[]> {
  const page = () => controller.get(`/api/v1/journals?company=${other}&limit=20`);
  const before: number[] = [];
  for (let i = 0; i < 12; i++) before.push((await page()).ms);
  const memory = memoryOf(pid);
  let most = memory;
  let over = false;
  const query = `company=${other}&mode=check&type=general&date=2026-11-03`;
  const reading = accountant
    .post(`/api/v1/journals/import?${query}`, bytes)
    .finally(() => (over = true));
  const during: number[] = [];
  while (!over) {
    during.push((await page()).ms);
    most = Math.max(most, memoryOf(pid));
    await new Promise((r) => setTimeout(r, 20));
  }
  const answer = await reading;
  const slower = median(during) / median(before);
  const grown = (most - memory) / MB;
  // A thread of its own takes some memory, whatever it reads.
  const allowed = Math.max(128, (20 * bytes.length) / MB);
  const said = answer.status === 200 || answer.status === 422;
  return [
    outcome(
      AREA,
      `${name}: answered`,
      "200 or 422",
      `${answer.status} in ${Math.round(answer.ms)} ms`,
      said,
    ),
    outcome(
      AREA,
      `${name}: another's page`,
      "at most 2 times",
      `${slower.toFixed(1)} times (${during.length} looks)`,
      // Of a reading that is over at once, one look says nothing.
      slower <= 2 || during.length < 4,
      true,
    ),
    ...(pid === null
      ? []
      : [
          outcome(
            AREA,
            `${name}: memory`,
            `at most ${Math.round(allowed)} MB`,
            `${Math.round(grown)} MB`,
            grown <= allowed,
          ),
        ]),
  ];
}

/** A stranger sends a hundred megabytes to the one address that is open. */
async function largeBody(base: string): Promise<Outcome> {
  const body = new Uint8Array(100 * MB);
  const answer = await Client.stranger(base).post("/api/v1/tokens", body);
  const holds = (answer.status === 413 || answer.status === 0) && answer.ms < 5_000;
  return outcome(
    AREA,
    "100 MB from a stranger",
    "413 or cut off",
    `${answer.status} in ${Math.round(answer.ms)} ms`,
    holds,
  );
}

/** Requests that begin and never end are ended. */
async function unfinished(base: string): Promise<Outcome> {
  const { hostname, port } = new URL(base);
  const closed = Array.from(
    { length: 100 },
    () =>
      new Promise<boolean>((done) => {
        const socket = connect(Number(port), hostname, () =>
          socket.write("POST /api/v1/tokens HTTP/1.1\r\nHost: x\r\nContent-Length: 50\r\n\r\n{"),
        );
        socket.on("close", () => done(true));
        socket.on("error", () => done(true));
        socket.resume();
        setTimeout(() => {
          socket.destroy();
          done(false);
        }, 45_000);
      }),
  );
  const ended = (await Promise.all(closed)).filter(Boolean).length;
  return outcome(
    AREA,
    "100 requests that never end",
    "ended within 45 s",
    `${ended} ended`,
    ended === 100,
  );
}

const median = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;

/** Resident bytes of a process, where the system tells. */
export function memoryOf(pid: number | null): number {
  if (pid === null) return 0;
  try {
    const line = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, "utf8"));
    return Number(line?.[1] ?? 0) * 1024;
  } catch {
    return 0;
  }
}
