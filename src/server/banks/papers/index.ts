export {
  getBankPaper,
  picturesOf,
  readBankPaper,
  samplePaper,
  saveBankPaper,
  type BankPaper,
} from "./bankPapers";
export { draftPdf } from "./draftPdf";
export { drawPapers, type DrawnPaper } from "./drawPapers";
