import { SaxesParser, type SaxesTagPlain } from "saxes";
import type { Zip } from "./openZip";

/** What is done at each mark of an XML part, by the name without its prefix. */
export interface XmlHandlers {
  open?(name: string, attributes: Record<string, string>): void;
  text?(text: string): void;
  close?(name: string): void;
}

const MAX_DEPTH = 64;

/**
 * Reads a part of a workbook from end to end, piece by piece: no tree of it is built. Throws where
 * it is no well-formed XML, or nested more deeply than a workbook is.
 */
export function readXml(zip: Zip, part: string, handlers: XmlHandlers): boolean {
  const parser = new SaxesParser();
  let depth = 0;
  parser.on("error", (error) => {
    throw error;
  });
  parser.on("opentag", (tag: SaxesTagPlain) => {
    if (++depth > MAX_DEPTH) throw new RangeError("nested too deeply");
    handlers.open?.(plain(tag.name), tag.attributes);
  });
  parser.on("text", (text) => handlers.text?.(text));
  parser.on("cdata", (text) => handlers.text?.(text));
  parser.on("closetag", (tag) => {
    depth--;
    handlers.close?.(plain(tag.name));
  });
  // Fatal: what is not in UTF-8 (or in UTF-16, by its mark) is no part of a workbook.
  let decoder: InstanceType<typeof TextDecoder> | undefined;
  const there = zip.read(part, (piece) => {
    decoder ??= new TextDecoder(encodingOf(piece), { fatal: true });
    parser.write(decoder.decode(piece, { stream: true }));
  });
  if (there) parser.write(decoder?.decode() ?? "").close();
  return there;
}

const encodingOf = ([a, b]: Uint8Array): string =>
  a === 0xff && b === 0xfe ? "utf-16le" : a === 0xfe && b === 0xff ? "utf-16be" : "utf-8";

const plain = (name: string): string => name.slice(name.indexOf(":") + 1);

/** An attribute by its name without prefix. */
export function attribute(attributes: Record<string, string>, name: string): string | undefined {
  const exact = attributes[name];
  if (exact !== undefined) return exact;
  const key = Object.keys(attributes).find((k) => k.endsWith(`:${name}`));
  return key === undefined ? undefined : attributes[key];
}
