export { bankFolder, saveBankFolder, type BankFolder, type RefusedFile } from "./folderSetting";
export { takeFolder } from "./takeFolder";
