/** What a file brought, in a sentence; or what stood against it. */
export async function sendStatements(
  file: File,
): Promise<{ ok: true; says: string } | { ok: false; says: string }> {
  const answer = (await fetch(`/bank-files?name=${encodeURIComponent(file.name)}`, {
    method: "POST",
    body: file,
  }).then(
    (r) => r.json(),
    () => null,
  )) as
    | { ok: true; value: { statements: unknown[]; lines: number; certain: number } }
    | { ok: false; message?: string }
    | null;
  if (!answer?.ok)
    return { ok: false, says: `${file.name}: ${answer?.message ?? "The server did not answer."}` };
  const { statements, lines } = answer.value;
  const count = (n: number, word: string) => `${n} ${word}${n === 1 ? "" : "s"}`;
  return {
    ok: true,
    says: `${file.name}: ${count(statements.length, "statement")}, ${count(lines, "line")}`,
  };
}
