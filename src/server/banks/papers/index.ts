export {
  getBankPaper,
  picturesOf,
  readBankPaper,
  samplePaper,
  saveBankPaper,
  type BankPaper,
} from "./bankPapers";
export { drawPapers, type DrawnPaper } from "./drawPapers";
