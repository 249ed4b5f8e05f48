import { SaxesParser } from "saxes";
import type { StatementFault } from "./statement";

/** An element of a file that is read piece by piece, with the lines of the file it stands on. */
export interface Element {
  name: string;
  attributes: Record<string, string>;
  text: string;
  children: Element[];
  from: number;
  to: number;
}

/** What is told of a file while it is read. */
export interface Watched {
  root(name: string, namespace: string, line: number): void;
  /** Elements that are passed through: only they and what they hold are looked into. */
  opens(name: string, line: number): void;
  closes(name: string): void;
  /** An element within one of them, with all that it holds. */
  whole(element: Element): void;
  stop(): boolean;
}

const PASSED_THROUGH = new Set([
  ...["Document", "BkToCstmrStmt", "Stmt"],
  ...["BkToCstmrAcctRpt", "Rpt", "BkToCstmrDbtCdtNtfctn", "Ntfctn"],
  ...["CstmrPmtStsRpt", "OrgnlPmtInfAndSts"],
]);
const DEEPEST = 24;
/** Elements that one entry may hold, and characters of one text: far beyond any batch. */
const MOST_ELEMENTS = 400_000;
const LONGEST = 10_000;

class Stopped extends Error {}

/**
 * Reads XML element by element and hands on the parts in which statements come, so that no more
 * than one of them is held. Returns what is broken about the file, if anything is.
 */
export function elementsOf(xml: string, watched: Watched): StatementFault | null {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const stack: Element[] = [];
  let depth = 0;
  let held = 0;
  const refuse = (what: string): never => {
    throw new Stopped(what);
  };
  parser.on("doctype", () => refuse("A document type is not taken"));
  parser.on("error", (fault) => refuse(plainFault(fault.message)));
  parser.on("opentag", (tag) => {
    if (depth === 0) watched.root(tag.local, tag.uri, parser.line);
    if (watched.stop()) refuse("");
    if (++depth > DEEPEST) refuse("Elements stand too deep within each other");
    if (stack.length === 0 && PASSED_THROUGH.has(tag.local)) {
      watched.opens(tag.local, parser.line);
      return;
    }
    if (++held > MOST_ELEMENTS) refuse("One line of it holds more than any bank writes");
    const element: Element = {
      name: tag.local,
      attributes: Object.fromEntries(
        Object.entries(tag.attributes).map(([name, a]) => [name, a.value.slice(0, 200)]),
      ),
      text: "",
      children: [],
      from: parser.line,
      to: parser.line,
    };
    stack.at(-1)?.children.push(element);
    stack.push(element);
  });
  parser.on("text", (text) => {
    const element = stack.at(-1);
    if (!element || element.children.length > 0) return;
    if (element.text.length + text.length > LONGEST) refuse("A text is too long for a statement");
    element.text += text;
  });
  parser.on("closetag", (tag) => {
    depth--;
    const element = stack.pop();
    if (!element) return void watched.closes(tag.local);
    element.to = parser.line;
    element.text = element.text.trim();
    if (stack.length > 0) return;
    held = 0;
    watched.whole(element);
    if (watched.stop()) refuse("");
  });
  try {
    for (let i = 0; i < xml.length; i += PIECE) parser.write(xml.slice(i, i + PIECE));
    parser.close();
    return null;
  } catch (error) {
    return { line: parser.line, what: error instanceof Stopped ? error.message : "No XML" };
  }
}

/** How much is read at a time. */
const PIECE = 65_536;

/** What the parser says, without its own place, which is said beside it. */
const plainFault = (message: string): string =>
  `The file is no whole XML: ${message.replace(/^\d+:\d+: /, "").replace(/\.$/, "")}`;

/** The first element on a way down; undefined where there is none. */
export const at = (element: Element, ...path: string[]): Element | undefined =>
  path.reduce<Element | undefined>((e, name) => e?.children.find((c) => c.name === name), element);
export const textAt = (element: Element, ...path: string[]): string =>
  at(element, ...path)?.text ?? "";
export const all = (element: Element, name: string): Element[] =>
  element.children.filter((c) => c.name === name);
