export { bookCash } from "./bookCash";
export { bankRegister, type BankRegister, type RegisterRow } from "./bankRegister";
