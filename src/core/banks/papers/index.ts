export * from "./pieces";
export * from "./layout";
export { problemsOfLayout, type LayoutProblem } from "./problemsOfLayout";
export { usualLayout } from "./usualLayout";
export { millimetreText, readMillimetres } from "./millimetres";
export { missingWords } from "./missingWords";
export { movePiece } from "./movePiece";
export { paperWords, type PaperFacts } from "./words";
