import { describe, expect, test } from "vitest";
import { readStatusReport } from "./statusReport";
import { writeStatusReport } from "./writeStatusReport";

const report = (group: string, inside = "", version = "10", before = "") =>
  `<?xml version="1.0"?>${before}<Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.${version}">
   <CstmrPmtStsRpt><GrpHdr><MsgId>R1</MsgId><CreDtTm>2026-11-04T08:00:00</CreDtTm></GrpHdr>
   <OrgnlGrpInfAndSts><OrgnlMsgId>PR-7</OrgnlMsgId>${group}</OrgnlGrpInfAndSts>
   <OrgnlPmtInfAndSts><OrgnlPmtInfId>PR-7-1</OrgnlPmtInfId>${inside}</OrgnlPmtInfAndSts>
   </CstmrPmtStsRpt></Document>`;
const payment = (id: string, status: string, more = "") =>
  `<TxInfAndSts><OrgnlEndToEndId>${id}</OrgnlEndToEndId><TxSts>${status}</TxSts>${more}</TxInfAndSts>`;
const why = (code: string, says = "") =>
  `<StsRsnInf><Rsn><Cd>${code}</Cd></Rsn>${says && `<AddtlInf>${says}</AddtlInf>`}</StsRsnInf>`;
const refusedIn = (xml: string) => {
  const read = readStatusReport(xml);
  if ("faults" in read) throw new Error(JSON.stringify(read.faults));
  return read.report.rejections.map((r) => [r.endToEnd, r.reason, r.says]);
};

describe("a bank's report on payments", () => {
  test("what is refused, with its reason; what is accepted or waits says nothing", () => {
    const xml = report(
      "<GrpSts>PART</GrpSts>",
      payment("P1", "ACSP") +
        payment("P2", "RJCT", why("AC01", "no such account")) +
        payment("P3", "PDNG"),
    );
    expect(refusedIn(xml)).toEqual([["P2", "AC01", "no such account"]]);
    expect(readStatusReport(xml)).toMatchObject({
      report: { day: "2026-11-04", message: "R1", original: "PR-7" },
    });
  });

  test("the whole file, and a block whose payments say no more", () => {
    expect(refusedIn(report(`<GrpSts>RJCT</GrpSts>${why("DU01")}`))).toEqual([["", "DU01", ""]]);
    const block = `<PmtInfSts>RJCT</PmtInfSts>${why("AM04")}`;
    const of = `<TxInfAndSts><OrgnlEndToEndId>P4</OrgnlEndToEndId></TxInfAndSts>`;
    expect(refusedIn(report("", block + of))).toEqual([["P4", "AM04", ""]]);
  });

  test("what is written is what is read", () => {
    const refused = [
      { endToEnd: "HSF-26-P00031", reason: "AC04" },
      { endToEnd: "HSF-26-P00032", reason: "BE04" },
    ];
    const xml = writeStatusReport("2026-11-04T08:00:00Z", {
      message: "R2",
      original: "PR-8",
      refused,
    });
    expect(refusedIn(xml)).toEqual(refused.map((r) => [r.endToEnd, r.reason, ""]));
  });

  test.each([
    ["another message", report("").replace("pain.002", "pain.008"), /no status report/],
    ["a version that is not known", report("", "", "15"), /no status report/],
    ["a document type", report("", "", "10", "<!DOCTYPE a>"), /document type/],
    ["a cut file", report("").slice(0, -20), /no whole XML/],
    ["no file that it is about", report("").replace("PR-7<", "<"), /OrgnlMsgId/],
    ["no day", report("").replace("2026-11-04", "2026-13-04"), /CreDtTm/],
    ["a block without its payments", report("", "<PmtInfSts>RJCT</PmtInfSts>"), /say of each/],
  ])("refused: %s", (_name, xml, what) => {
    const read = readStatusReport(xml);
    expect("faults" in read && read.faults[0]!.what).toMatch(what);
  });
});
