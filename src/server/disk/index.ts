export { flush, flushTree } from "./flush";
export { movePart, partOf, writePart, writeWhole } from "./writeWhole";
