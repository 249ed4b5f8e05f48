export { drawLetter, type Sender } from "./drawLetter";
export { getLetterLayout, saveLetterLayout } from "./layout";
export { senderOf } from "./senderOf";
export { sampleLetter } from "./sampleLetter";
