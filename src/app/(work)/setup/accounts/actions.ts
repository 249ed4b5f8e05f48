"use server";
import { loadChart } from "@/server/organisation";
import { answer, type Answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";
import { MAX_FILE, readTable } from "@/server/files";

export async function loadChartAction(form: FormData): Promise<Answer<{ added: number; changed: number; same: number }>> {
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0) return answer({ ok: false, problems: [{ code: "REQUIRED", what: "A file" }] });
  if (file.size > MAX_FILE) return answer({ ok: false, problems: [{ code: "INVALID", what: `The file is larger than ${MAX_FILE / 1_048_576} MB` }] });
  const table = await readTable(file.name, new Uint8Array(await file.arrayBuffer()));
  if (!table.ok) return answer(table);
  return answer(await loadChart(await actionCaller(), { rows: table.value, take: form.get("take") === "1" }));
}
