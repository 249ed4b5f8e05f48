import type { TableReading } from "@/core/banks/statements/table";
import type { Imported, LookedAt } from "@/server/banks";
import { shownQuantity } from "@/ui/writing";
import type { Answer } from "@/app/lib/answer";

/** How a table is read, and of which account it is. */
export interface SaidOfTable {
  bank: string;
  reading: TableReading;
  /** As typed; empty where a balance or a statement before says it. */
  opening: string;
}

export type Sent =
  | { ok: true; says: string }
  /** Somebody has to say first how the table is read. */
  | { ok: false; needsReading: boolean; says: string };

async function send<T>(file: File, more: Record<string, string>): Promise<Answer<T> | null> {
  const query = new URLSearchParams({ name: file.name, ...more });
  return (await fetch(`/bank-files?${query}`, { method: "POST", body: file }).then(
    (r) => r.json(),
    () => null,
  )) as Answer<T> | null;
}

export const lookAtTable = (file: File) => send<LookedAt>(file, { look: "1" });

/** What a file brought, in a sentence; or what stood against it. */
export async function sendStatements(file: File, said?: SaidOfTable): Promise<Sent> {
  const answer = await send<Imported>(
    file,
    said ? { bank: said.bank, opening: said.opening, reading: JSON.stringify(said.reading) } : {},
  );
  if (!answer?.ok)
    return {
      ok: false,
      needsReading: answer?.problems.some((p) => p.code === "READING_NEEDED") ?? false,
      says: `${file.name}: ${answer?.message ?? "The server did not answer."}`,
    };
  return { ok: true, says: `${file.name}: ${broughtText(answer.value)}` };
}

function broughtText({
  isComing,
  statements,
  lines,
  certain,
  known,
  notices,
  opened,
  rejected,
  format,
}: Imported): string {
  if (isComing)
    return `${shownQuantity(BigInt(lines) * 1000n)} lines are being taken in; Today shows how far it is`;
  const count = (n: number, word: string) => `${n} ${word}${n === 1 ? "" : "s"}`;
  const parts = [
    ...(statements.length > 0
      ? [
          count(statements.length, "statement"),
          count(lines, "line"),
          certain === null ? "being matched" : `${certain} certain`,
        ]
      : []),
    ...(known > 0 ? [`${count(known, "movement")} there already`] : []),
    ...(notices > 0
      ? [notices === 1 ? "1 batch in its parts" : `${notices} batches in their parts`]
      : []),
    ...(rejected > 0 ? [`${count(rejected, "payment")} rejected, open again`] : []),
    ...(opened > 0 ? [`${count(opened, "line")} opened`] : []),
  ];
  if (parts.length > 0) return parts.join(", ");
  return format === "pain.002" ? "nothing was rejected" : "no batch in it that can be opened";
}
