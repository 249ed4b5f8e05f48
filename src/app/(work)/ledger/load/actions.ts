"use server";
import { MAX_FILE, readCells, type Sheet } from "@/server/files";
import { loadJournals, type LoadResult } from "@/server/ledger";
import { answer, type Answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

/** The cells of a file, for looking at before anything is stored. */
export async function readFileAction(form: FormData): Promise<Answer<Sheet>> {
  if (!(await actionCaller()).person)
    return answer({ ok: false, problems: [{ code: "FORBIDDEN", what: "load files" }] });
  const file = form.get("file");
  if (!(file instanceof File) || file.size === 0)
    return answer({ ok: false, problems: [{ code: "REQUIRED", what: "A file" }] });
  if (file.size > MAX_FILE)
    return answer({
      ok: false,
      problems: [{ code: "INVALID", what: `The file is larger than ${MAX_FILE / 1_048_576} MB` }],
    });
  return answer(await readCells(file.name, new Uint8Array(await file.arrayBuffer())));
}

export const loadAction = async (input: unknown): Promise<Answer<LoadResult>> =>
  answer(await loadJournals(await actionCaller(), input));
