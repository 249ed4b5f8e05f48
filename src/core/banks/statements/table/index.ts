export { FIELD_WORDS, JOINED, TABLE_FIELDS, type TableField } from "./tableFields";
export {
  headingsAt,
  keyOf,
  proposeReading,
  readingFaults,
  type ProposedReading,
  type TableReading,
} from "./tableReading";
export {
  ownAccountOf,
  rowsOfTable,
  statementOfTable,
  type StatementOfTable,
  type TableFacts,
} from "./statementOfTable";
