/** Encodings that XML from suppliers comes in; others are refused. */
const KNOWN: ReadonlySet<string> = new Set([
  "utf-8",
  "utf-16",
  "utf-16le",
  "utf-16be",
  "iso-8859-1",
  "iso-8859-15",
  "windows-1252",
  "us-ascii",
]);

/**
 * The text of an XML file: by its byte order mark, else by the encoding that its declaration names,
 * else UTF-8 (XML 1.0, appendix F). Null where it is not in that encoding, or names an unknown one.
 */
export function decodeXml(bytes: Uint8Array): string | null {
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? "utf-16le"
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? "utf-16be"
        : null;
  const head = new TextDecoder("latin1").decode(bytes.subarray(0, 200));
  const named = /^(?:\u00ef\u00bb\u00bf)?<\?xml[^>]*encoding=["']([A-Za-z0-9._-]+)["']/.exec(head);
  const encoding = mark ?? named?.[1]?.toLowerCase() ?? "utf-8";
  if (!KNOWN.has(encoding)) return null;
  try {
    return new TextDecoder(encoding, { fatal: true }).decode(bytes).replace(/^\ufeff/, "");
  } catch {
    return null;
  }
}
