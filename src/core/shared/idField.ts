import { number } from "yup";

/** The identity of something stored, within what numbers say exactly; nothing where none is meant. */
export const idField = () =>
  number().integer("This is no number of a record").min(0).max(Number.MAX_SAFE_INTEGER);
