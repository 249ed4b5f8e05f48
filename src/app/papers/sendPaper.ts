/** Adds a paper to a document; the sentence says what stood against it, null where nothing did. */
export async function sendPaper(document: number, file: File): Promise<string | null> {
  const answer = (await fetch(
    `/attachments?document=${document}&name=${encodeURIComponent(file.name)}`,
    { method: "POST", body: file },
  ).then(
    (r) => r.json(),
    () => null,
  )) as { ok: boolean; message?: string } | null;
  return answer?.ok ? null : `${file.name}: ${answer?.message ?? "the server did not answer."}`;
}
