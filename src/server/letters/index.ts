export { drawLetter, type Sender } from "./drawLetter";
export { getLetterLayout, readLayout, saveLetterLayout } from "./layout";
export * from "./outbox";
export { isDrawable } from "./picture";
export { senderOf } from "./senderOf";
export { sampleLetter } from "./sampleLetter";
