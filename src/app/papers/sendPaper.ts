/** What a file is added to: a document, or what was said with a customer. */
export type PaperHolder = { document: number } | { remark: number };

/** Kinds of file that are taken, as a file input says it. */
export const PAPER_KINDS = ".pdf,.png,.jpg,.jpeg,.xlsx,.csv,.txt,.xml";

/** Adds a file; the sentence says what stood against it, null where nothing did. */
export async function sendPaper(to: PaperHolder, file: File): Promise<string | null> {
  const [[what, id]] = Object.entries(to) as [[string, number]];
  const answer = (await fetch(`/attachments?${what}=${id}&name=${encodeURIComponent(file.name)}`, {
    method: "POST",
    body: file,
  }).then(
    (r) => r.json(),
    () => null,
  )) as { ok: boolean; message?: string } | null;
  return answer?.ok ? null : `${file.name}: ${answer?.message ?? "the server did not answer."}`;
}
