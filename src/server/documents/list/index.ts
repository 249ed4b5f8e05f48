export { documentList, queryDocuments, type DocumentList } from "./queryDocuments";
