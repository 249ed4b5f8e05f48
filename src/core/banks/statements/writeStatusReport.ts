import { XMLBuilder } from "fast-xml-parser";

/** Payments that a bank refuses, each by our id, with a reason of ISO 20022. */
export interface RefusedPayment {
  endToEnd: string;
  reason: string;
}

/** A bank's report on a file of payments as ISO 20022 pain.002.001.10, as the simulated bank gives it. */
export function writeStatusReport(
  made: string,
  of: { message: string; original: string; refused: readonly RefusedPayment[] },
): string {
  const builder = new XMLBuilder({
    ignoreAttributes: false,
    attributeNamePrefix: "@",
    format: true,
    suppressEmptyNode: true,
  });
  return builder.build({
    "?xml": { "@version": "1.0", "@encoding": "UTF-8" },
    Document: {
      "@xmlns": "urn:iso:std:iso:20022:tech:xsd:pain.002.001.10",
      CstmrPmtStsRpt: {
        GrpHdr: { MsgId: of.message, CreDtTm: made.slice(0, 19) },
        OrgnlGrpInfAndSts: {
          OrgnlMsgId: of.original,
          OrgnlMsgNmId: "pain.001.001.09",
          GrpSts: "PART",
        },
        OrgnlPmtInfAndSts: {
          OrgnlPmtInfId: of.original,
          TxInfAndSts: of.refused.map((r) => ({
            OrgnlEndToEndId: r.endToEnd,
            TxSts: "RJCT",
            StsRsnInf: { Rsn: { Cd: r.reason } },
          })),
        },
      },
    },
  }) as string;
}
