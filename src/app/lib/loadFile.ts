import "server-only";
import type { LoadCounts } from "@/ui/FileLoad";
import type { UseCase } from "@/server/access";
import { MAX_FILE, readTable } from "@/server/files";
import { answer, type Answer } from "./answer";
import { actionCaller } from "./session";

export type Counts = LoadCounts;

/** Rows of a CSV or XLSX file to a use case that checks them or takes them in. */
export async function loadRowsFromFile(
  form: FormData,
  work: UseCase<Counts>,
  more: Record<string, unknown> = {},
): Promise<Answer<Counts>> {
  const caller = await actionCaller();
  if (!caller.person)
    return answer({ ok: false, problems: [{ code: "FORBIDDEN", what: "load files" }] });
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0)
    return answer({ ok: false, problems: [{ code: "REQUIRED", what: "A file" }] });
  if (file.size > MAX_FILE)
    return answer({
      ok: false,
      problems: [{ code: "INVALID", what: `The file is larger than ${MAX_FILE / 1_048_576} MB` }],
    });
  const table = await readTable(file.name, new Uint8Array(await file.arrayBuffer()));
  if (!table.ok) return answer(table);
  return answer(
    await work(caller, {
      rows: table.value,
      take: form.get("take") === "1",
      confirmed: form.get("confirmed") === "1",
      ...more,
    }),
  );
}
