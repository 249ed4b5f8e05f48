/**
 * The body of a request, counted while it arrives: what is longer than the limit is cut off there
 * and then, whatever the request said of its length. Null where it is longer, or broken off.
 */
export async function readBody(request: Request, limit: number): Promise<Uint8Array | null> {
  if (Number(request.headers.get("content-length") ?? 0) > limit) return null;
  if (!request.body) return new Uint8Array();
  const chunks: Uint8Array[] = [];
  let size = 0;
  const reader = request.body.getReader();
  for (;;) {
    // Whoever breaks off while sending waits for no answer.
    const { done, value } = await reader.read().catch(() => BROKEN_OFF);
    if (value === null) return null;
    if (done) return Buffer.concat(chunks);
    size += value.length;
    if (size > limit) {
      await reader.cancel().catch(() => undefined);
      return null;
    }
    chunks.push(value);
  }
}

const BROKEN_OFF = { done: false, value: null } as const;

/** The body as text in UTF-8; null where it is too long. */
export async function readText(request: Request, limit: number): Promise<string | null> {
  const bytes = await readBody(request, limit);
  return bytes === null ? null : new TextDecoder().decode(bytes);
}
