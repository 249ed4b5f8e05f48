export {
  endAgreement,
  getAgreement,
  listAgreements,
  saveAgreement,
  skipAgreement,
  type AgreementRow,
  type AgreementView,
} from "./agreements";
export { agreementRun } from "./agreementRun";
export { priceIndices, savePriceIndex } from "./priceIndices";
