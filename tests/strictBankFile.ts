import { XMLParser, XMLValidator } from "fast-xml-parser";
import { isValidBIC, isValidIBAN } from "ibantools";

type Node = Record<string, unknown>;
/** Element names in the order of the published message definition, with how often each may come. */
type Rule = readonly [
  name: string,
  least: 0 | 1,
  most: number,
  inner: readonly Rule[] | ((text: string) => boolean),
];

const text = (most: number) => (t: string) =>
  t.length >= 1 &&
  t.length <= most &&
  /^[A-Za-z0-9/\-?:().,'+ ]+$/.test(t) &&
  !/^\/|\/$|\/\//.test(t);
const amount = (t: string) => /^\d{1,18}(\.\d{1,5})?$/.test(t) && Number(t) > 0;
const one =
  (...values: string[]) =>
  (t: string) =>
    values.includes(t);
const address: readonly Rule[] = [
  ["StrtNm", 0, 1, text(70)],
  ["PstCd", 0, 1, text(16)],
  ["TwnNm", 0, 1, text(35)],
  ["Ctry", 0, 1, (t) => /^[A-Z]{2}$/.test(t)],
];
const party: readonly Rule[] = [
  ["Nm", 1, 1, text(140)],
  ["PstlAdr", 0, 1, address],
  ["Id", 0, 1, [["OrgId", 1, 1, [["LEI", 0, 1, (t) => /^[A-Z0-9]{18}[0-9]{2}$/.test(t)]]]]],
];
const agent: readonly Rule[] = [
  [
    "FinInstnId",
    1,
    1,
    [
      ["BICFI", 0, 1, (t) => isValidBIC(t)],
      [
        "ClrSysMmbId",
        0,
        1,
        [
          ["ClrSysId", 0, 1, [["Cd", 1, 1, (t) => /^[A-Z]{5}$/.test(t)]]],
          ["MmbId", 1, 1, text(35)],
        ],
      ],
      ["PstlAdr", 0, 1, address],
      ["Othr", 0, 1, [["Id", 1, 1, text(35)]]],
    ],
  ],
];
const account: readonly Rule[] = [
  [
    "Id",
    1,
    1,
    [
      ["IBAN", 0, 1, (t) => isValidIBAN(t)],
      ["Othr", 0, 1, [["Id", 1, 1, text(34)]]],
    ],
  ],
];
const count = (t: string) => /^\d{1,15}$/.test(t);
const head: Rule = [
  "GrpHdr",
  1,
  1,
  [
    ["MsgId", 1, 1, text(35)],
    ["CreDtTm", 1, 1, (t) => /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d$/.test(t)],
    ["NbOfTxs", 1, 1, count],
    ["CtrlSum", 0, 1, amount],
    ["InitgPty", 1, 1, [["Nm", 1, 1, text(140)]]],
  ],
];
const remittance: Rule = [
  "RmtInf",
  0,
  1,
  [
    ["Ustrd", 0, 1, text(140)],
    [
      "Strd",
      0,
      1,
      [
        [
          "CdtrRefInf",
          0,
          1,
          [
            ["Tp", 0, 1, [["CdOrPrtry", 1, 1, [["Cd", 1, 1, one("SCOR")]]]]],
            ["Ref", 0, 1, (t) => /^RF\d{2}[A-Z0-9]{1,21}$/.test(t)],
          ],
        ],
      ],
    ],
  ],
];
const TRANSFERS: readonly Rule[] = [
  head,
  [
    "PmtInf",
    1,
    1e6,
    [
      ["PmtInfId", 1, 1, text(35)],
      ["PmtMtd", 1, 1, one("TRF")],
      ["BtchBookg", 0, 1, one("true", "false")],
      ["NbOfTxs", 0, 1, count],
      ["CtrlSum", 0, 1, amount],
      ["PmtTpInf", 0, 1, [["SvcLvl", 0, 1, [["Cd", 1, 1, one("SEPA")]]]]],
      ["ReqdExctnDt", 1, 1, [["Dt", 1, 1, (t) => /^\d{4}-\d\d-\d\d$/.test(t)]]],
      ["Dbtr", 1, 1, party],
      ["DbtrAcct", 1, 1, account],
      ["DbtrAgt", 1, 1, agent],
      ["ChrgBr", 0, 1, one("SLEV", "SHAR", "DEBT", "CRED")],
      [
        "CdtTrfTxInf",
        1,
        1e6,
        [
          [
            "PmtId",
            1,
            1,
            [
              ["InstrId", 0, 1, text(35)],
              ["EndToEndId", 1, 1, text(35)],
            ],
          ],
          ["Amt", 1, 1, [["InstdAmt", 1, 1, amount]]],
          ["CdtrAgt", 0, 1, agent],
          ["Cdtr", 0, 1, party],
          ["CdtrAcct", 0, 1, account],
          ["UltmtCdtr", 0, 1, [["Nm", 0, 1, text(140)]]],
          ["Purp", 0, 1, [["Cd", 1, 1, (t) => /^[A-Z]{4}$/.test(t)]]],
          remittance,
        ],
      ],
    ],
  ],
];

const DEBITS: readonly Rule[] = [
  head,
  [
    "PmtInf",
    1,
    1e6,
    [
      ["PmtInfId", 1, 1, text(35)],
      ["PmtMtd", 1, 1, one("DD")],
      ["BtchBookg", 0, 1, one("true", "false")],
      ["NbOfTxs", 1, 1, count],
      ["CtrlSum", 1, 1, amount],
      [
        "PmtTpInf",
        1,
        1,
        [
          ["SvcLvl", 1, 1, [["Cd", 1, 1, one("SEPA")]]],
          ["LclInstrm", 1, 1, [["Cd", 1, 1, one("CORE", "B2B")]]],
          ["SeqTp", 1, 1, one("FRST", "RCUR", "OOFF", "FNAL")],
        ],
      ],
      ["ReqdColltnDt", 1, 1, (t) => /^\d{4}-\d\d-\d\d$/.test(t)],
      ["Cdtr", 1, 1, party],
      ["CdtrAcct", 1, 1, account],
      ["CdtrAgt", 1, 1, agent],
      ["ChrgBr", 0, 1, one("SLEV")],
      [
        "CdtrSchmeId",
        1,
        1,
        [
          [
            "Id",
            1,
            1,
            [
              [
                "PrvtId",
                1,
                1,
                [
                  [
                    "Othr",
                    1,
                    1,
                    [
                      ["Id", 1, 1, (t) => /^[A-Z]{2}\d{2}[A-Z0-9]{4,31}$/.test(t)],
                      ["SchmeNm", 1, 1, [["Prtry", 1, 1, one("SEPA")]]],
                    ],
                  ],
                ],
              ],
            ],
          ],
        ],
      ],
      [
        "DrctDbtTxInf",
        1,
        1e6,
        [
          [
            "PmtId",
            1,
            1,
            [
              ["InstrId", 0, 1, text(35)],
              ["EndToEndId", 1, 1, text(35)],
            ],
          ],
          ["InstdAmt", 1, 1, (t) => /^\d{1,9}\.\d\d$/.test(t) && Number(t) > 0],
          [
            "DrctDbtTx",
            1,
            1,
            [
              [
                "MndtRltdInf",
                1,
                1,
                [
                  ["MndtId", 1, 1, (t) => /^[A-Za-z0-9+?/:().,'-]{1,35}$/.test(t)],
                  ["DtOfSgntr", 1, 1, (t) => /^\d{4}-\d\d-\d\d$/.test(t)],
                ],
              ],
            ],
          ],
          ["DbtrAgt", 1, 1, agent],
          ["Dbtr", 1, 1, party],
          ["DbtrAcct", 1, 1, account],
          remittance,
        ],
      ],
    ],
  ],
];

/** What tells a message from another. */
interface Message {
  space: string;
  root: string;
  part: string;
  rules: readonly Rule[];
  amountOf: (part: Plain) => string;
}
type Plain = { [name: string]: Plain } & { "#text": string };

/** Everything in which a file of credit transfers breaks the published rules of pain.001.001.09. */
export const faultsOfTransferFile = (xml: string): string[] =>
  faultsOf(xml, {
    space: "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09",
    root: "CstmrCdtTrfInitn",
    part: "CdtTrfTxInf",
    rules: TRANSFERS,
    amountOf: (p) => p.Amt!.InstdAmt!["#text"],
  });

/** Everything in which a file of direct debits breaks the published rules of pain.008.001.08. */
export const faultsOfDebitFile = (xml: string): string[] =>
  faultsOf(xml, {
    space: "urn:iso:std:iso:20022:tech:xsd:pain.008.001.08",
    root: "CstmrDrctDbtInitn",
    part: "DrctDbtTxInf",
    rules: DEBITS,
    amountOf: (p) => p.InstdAmt!["#text"],
  });

/** Order and number of elements, types, character set, check digits, counts and sums. */
function faultsOf(xml: string, is: Message): string[] {
  const wellFormed = XMLValidator.validate(xml);
  if (wellFormed !== true) return [wellFormed.err.msg];
  const [root] = (
    new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      parseTagValue: false,
      ignoreDeclaration: true,
      trimValues: true,
    }).parse(xml) as Node[]
  ).filter((n) => "Document" in n);
  if (!root || (root[":@"] as Node | undefined)?.["@_xmlns"] !== is.space)
    return ["no Document of the name space"];
  const faults: string[] = [];
  const textOf = (nodes: Node[]): string => nodes.map((n) => String(n["#text"] ?? "")).join("");
  const walk = (nodes: Node[], rules: readonly Rule[], path: string) => {
    const names = nodes
      .map((n) => Object.keys(n).find((k) => k !== ":@")!)
      .filter((n) => n !== "#text");
    let at = 0;
    for (const [name, least, most] of rules) {
      let n = 0;
      for (; names[at] === name; at++) n++;
      if (n < least || n > most) faults.push(`${path}/${name} comes ${n} times`);
    }
    if (at < names.length) faults.push(`${path}/${names[at]!} stands at a wrong place`);
    for (const node of nodes) {
      const name = Object.keys(node).find((k) => k !== ":@")!;
      const inner = rules.find((r) => r[0] === name)?.[3];
      if (typeof inner === "function") {
        const value = textOf(node[name] as Node[]);
        if (!inner(value) || (node[name] as Node[]).some((n) => !("#text" in n)))
          faults.push(`${path}/${name}: ${value}`);
      } else if (inner) walk(node[name] as Node[], inner, `${path}/${name}`);
    }
  };
  const [message] = root.Document as Node[];
  if (!message || !(is.root in message)) return [`no ${is.root}`];
  walk(message[is.root] as Node[], is.rules, "");
  const plain = (
    new XMLParser({
      ignoreAttributes: false,
      parseTagValue: false,
      isArray: (n) => n === "PmtInf" || n === is.part,
    }).parse(xml) as { Document: Plain }
  ).Document[is.root]!;
  const blocks = plain.PmtInf as unknown as Plain[];
  const partsOf = (block: Plain) => block[is.part] as unknown as Plain[];
  const cents = (t: string): bigint => BigInt(Math.round(Number(t) * 1000));
  const all = blocks.flatMap(partsOf);
  for (const [of, list] of [
    [plain.GrpHdr!, all],
    ...blocks.map((p) => [p, partsOf(p)] as const),
  ] as const) {
    const { NbOfTxs, CtrlSum } = of as unknown as Record<string, string>;
    if (Number(NbOfTxs) !== list.length) faults.push(`NbOfTxs ${NbOfTxs} for ${list.length}`);
    if (cents(CtrlSum!) !== list.reduce((t, x) => t + cents(is.amountOf(x)), 0n))
      faults.push(`CtrlSum ${CtrlSum}`);
  }
  // SEPA's implementation guidelines (EPC 132-08): names have at most 70 characters.
  for (const block of xml.split("<PmtInf>").slice(1))
    if (/<Cd>SEPA<\/Cd>/.test(block))
      for (const [, name] of block.matchAll(/<Nm>([^<]*)<\/Nm>/g))
        if (name!.length > 70) faults.push(`a name of ${name!.length} characters under SEPA`);
  // A choice: one of the two, never none and never both.
  for (const [, id] of xml.matchAll(/<(?:Dbtr|Cdtr)Acct>\s*<Id>([\s\S]*?)<\/(?:Dbtr|Cdtr)Acct>/g))
    if (/<IBAN>/.test(id!) === /<Othr>/.test(id!)) faults.push("an account is neither or both");
  if (new Set(all.map((t) => String(t.PmtId!.EndToEndId))).size !== all.length)
    faults.push("an EndToEndId comes twice");
  return faults;
}
