import { isCalendarDate, type CalendarDate } from "../../shared";
import type { StatementFault } from "./statement";
import { all, at, elementsOf, textAt, type Element, type Watched } from "./xmlParts";

/** What a bank refuses of a file of payments: the whole of it, or payments by the ids we gave them. */
export interface Rejection {
  /** Our end-to-end id; "" where the whole file is refused. */
  endToEnd: string;
  /** ISO 20022 external status reason, as AC01; "" where the bank gives none. */
  reason: string;
  /** What the bank says beside it. */
  says: string;
  /** The line of the report that it stands on. */
  from: number;
}

export interface StatusReport {
  /** The day on which the bank made it. */
  day: CalendarDate;
  message: string;
  /** The id of the file of payments that it is about. */
  original: string;
  rejections: readonly Rejection[];
}

export type ReadReport = { report: StatusReport } | { faults: readonly StatementFault[] };

/** The most payments that a report may refuse one by one. */
const MOST_REJECTIONS = 50_000;
const REJECTED = "RJCT";

/**
 * Reads a bank's report on a file of payments, ISO 20022 pain.002 of versions 03 to 14: what it
 * refuses, of the whole file, of a block, or of single payments. What is accepted or waits says
 * nothing here: the statement shows what was carried out. A block that is refused has to name its
 * payments; a report on no file of a customer is refused.
 */
export function readStatusReport(xml: string): ReadReport {
  const faults: StatementFault[] = [];
  const rejections: Rejection[] = [];
  const head = { message: "", day: "", original: "" };
  let block = newBlock(0);
  const watched: Watched = {
    root: (name, namespace, line) => {
      const version = /pain\.002\.001\.(\d\d)$/.exec(namespace)?.[1];
      if (name !== "Document" || !version || Number(version) < 3 || Number(version) > 14)
        faults.push({ line, what: "The file is no status report (pain.002.001.03 to 14)" });
    },
    opens: (name, line) => {
      if (name === "OrgnlPmtInfAndSts") block = newBlock(line);
    },
    whole: (element) => {
      if (element.name === "GrpHdr") {
        head.message = textAt(element, "MsgId");
        head.day = textAt(element, "CreDtTm").slice(0, 10);
      }
      if (element.name === "OrgnlGrpInfAndSts") {
        head.original = textAt(element, "OrgnlMsgId");
        if (textAt(element, "GrpSts") === REJECTED)
          rejections.push({ ...reasonOf(element), endToEnd: "" });
      }
      if (element.name === "PmtInfSts") block.isRejected = element.text === REJECTED;
      if (element.name === "StsRsnInf") block.reason ??= reasonOf(element, [element]);
      if (element.name === "TxInfAndSts") readPayment(element, block, rejections);
      if (rejections.length > MOST_REJECTIONS)
        faults.push({ line: element.from, what: "It refuses more payments than a file has" });
    },
    closes: (name) => {
      if (name === "OrgnlPmtInfAndSts" && block.isRejected && block.payments === 0)
        faults.push({
          line: block.from,
          what: "A block is refused without its payments: say of each that it was rejected",
        });
    },
    stop: () => faults.length > 0,
  };
  const broken = elementsOf(xml, watched);
  if (broken && faults.length === 0) faults.push(broken);
  if (faults.length === 0 && head.original === "")
    faults.push({ line: 1, what: "It does not say of which file it is (OrgnlMsgId)" });
  if (faults.length === 0 && !isCalendarDate(head.day))
    faults.push({ line: 1, what: "It does not say of which day it is (CreDtTm)" });
  return faults.length > 0 ? { faults } : { report: { ...head, rejections } };
}

/** A block of payments of which not all has been read. */
const newBlock = (from: number) => ({
  from,
  isRejected: false,
  payments: 0,
  reason: null as Pick<Rejection, "reason" | "says" | "from"> | null,
});

function readPayment(
  element: Element,
  block: ReturnType<typeof newBlock>,
  rejections: Rejection[],
): void {
  block.payments++;
  const status = textAt(element, "TxSts");
  if (status !== REJECTED && !(block.isRejected && status === "")) return;
  const own = reasonOf(element);
  const reason = own.reason === "" && own.says === "" ? (block.reason ?? own) : own;
  rejections.push({
    ...reason,
    endToEnd: textAt(element, "OrgnlEndToEndId"),
    from: element.from,
  });
}

function reasonOf(
  element: Element,
  given = all(element, "StsRsnInf"),
): Pick<Rejection, "reason" | "says" | "from"> {
  const [first] = given;
  const says = given.flatMap((g) => all(g, "AddtlInf").map((a) => a.text));
  const reason = first ? textAt(first, "Rsn", "Cd") || (at(first, "Rsn", "Prtry")?.text ?? "") : "";
  return { reason, says: says.filter(Boolean).join(" ").slice(0, 200), from: element.from };
}
