import { CONTROL_KINDS, type AccountType, type ControlKind } from "./types";

export interface ChartHeading {
  code: string;
  name: string;
  parent: string | null;
}
export interface ChartAccount {
  number: string;
  name: string;
  type: AccountType;
  control: ControlKind | null;
  monetary: boolean;
  heading: string;
}

const CONTROL_WORDS: ReadonlySet<string> = new Set(CONTROL_KINDS);

function typeOf(number: string): AccountType {
  if (number === "8510" || number === "8540" || number === "8560") return "income";
  switch (number[0]) {
    case "1":
      return "asset";
    case "2":
      return "liability";
    case "3":
      return "equity";
    case "4":
      return "income";
    case "9":
      return "units";
    default:
      return "expense";
  }
}

export interface Chart {
  headings: ChartHeading[];
  accounts: ChartAccount[];
}

/**
 * Reads a chart that comes with the program: headings (parents first) and accounts, in order.
 * A heading is "code name" with its depth as indent; an account is "number name" with four figures,
 * marks behind "|": a control kind, or nm for not monetary. Types follow the first digit.
 */
export function chartOf(text: string): Chart {
  const headings: ChartHeading[] = [];
  const accounts: ChartAccount[] = [];
  const open: { depth: number; code: string }[] = [];
  for (const row of text.split("\n")) {
    const match = /^( *)(\d+) ([^|]+?)(?: \| (.*))?$/.exec(row);
    if (!match) continue;
    const depth = match[1]!.length;
    const code = match[2]!;
    const name = match[3]!.trim();
    if (code.length < 4) {
      while (open.length > 0 && open[open.length - 1]!.depth >= depth) open.pop();
      headings.push({ code, name, parent: open[open.length - 1]?.code ?? null });
      open.push({ depth, code });
      continue;
    }
    const marks = match[4]?.split(" ") ?? [];
    accounts.push({
      number: code,
      name,
      type: typeOf(code),
      control: (marks.find((m) => CONTROL_WORDS.has(m)) as ControlKind | undefined) ?? null,
      monetary: (code[0] === "1" || code[0] === "2") && !marks.includes("nm"),
      heading: open[open.length - 1]!.code,
    });
  }
  return { headings, accounts };
}
