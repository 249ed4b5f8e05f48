import { decodeXml } from "./decodeXml";

/** The text of a file that a person sent, in the encoding it is in; null where it is none. */
export function textOfFile(bytes: Uint8Array): string | null {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return null;
  const xml = decodeXml(bytes);
  if (xml !== null) return xml;
  return new TextDecoder("windows-1252").decode(bytes);
}
