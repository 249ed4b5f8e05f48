export * as column from "./columns";
export type { ListColumns, RowOf } from "./columns";
export { documentList, queryDocuments, type DocumentList } from "./queryDocuments";
