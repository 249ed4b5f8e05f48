import { readFileSync } from "node:fs";
import { connect } from "node:net";
import { strToU8 } from "fflate";
import { plainWorkbook } from "../tests/workbooks";
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

const sheet = (rows: string) => plainWorkbook({ sheet: `<sheetData>${rows}</sheetData>` });

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

/** What somebody else's looks at a page took before and while something is read, and its memory. */
export interface Meanwhile {
  before: number;
  during: number;
  looks: number;
  /** Megabytes by which the process grew. */
  grown: number;
}

/** Looks at a page again and again while something is read; times in milliseconds, medians. */
export async function whileReading(
  look: () => Promise<number>,
  read: () => Promise<unknown>,
  pid: number | null,
): Promise<Meanwhile> {
  const before: number[] = [];
  for (let i = 0; i < 20; i++) before.push(await look());
  const memory = memoryOf(pid);
  let most = memory;
  let over = false;
  const reading = read().finally(() => (over = true));
  const during: number[] = [];
  while (!over) {
    during.push(await look());
    most = Math.max(most, memoryOf(pid));
  }
  await reading;
  return {
    before: median(before),
    during: median(during),
    looks: during.length,
    grown: (most - memory) / MB,
  };
}

/** Another person's page while a file is read, against the same page before; and the memory. */
async function readUnder(
  { accountant, controller, other }: Scene,
  name: string,
  bytes: Uint8Array,
  pid: number | null,
): Promise<Outcome[]> {
  const query = `company=${other}&mode=check&type=general&date=2026-11-03`;
  let answered = "";
  let said = false;
  const { before, during, looks, grown } = await whileReading(
    async () => (await controller.get(`/api/v1/journals?company=${other}&limit=20`)).ms,
    async () => {
      const answer = await accountant.post(`/api/v1/journals/import?${query}`, bytes);
      answered = `${answer.status} in ${Math.round(answer.ms)} ms`;
      said = answer.status === 200 || answer.status === 422;
    },
    pid,
  );
  const slower = during / before;
  // A thread of its own takes some memory, whatever it reads.
  const allowed = Math.max(128, (20 * bytes.length) / MB);
  return [
    outcome(AREA, `${name}: answered`, "200 or 422", answered, said),
    outcome(
      AREA,
      `${name}: another's page`,
      "at most 2 times",
      `${slower.toFixed(1)} times (${looks} looks)`,
      // Of a reading that is over at once, one look says nothing.
      slower <= 2 || looks < 4,
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
function memoryOf(pid: number | null): number {
  if (pid === null) return 0;
  try {
    const line = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, "utf8"));
    return Number(line?.[1] ?? 0) * 1024;
  } catch {
    return 0;
  }
}
