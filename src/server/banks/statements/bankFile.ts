import { object, string } from "yup";

/** The largest file that is taken, in bytes. */
export const MAX_STATEMENT_FILE = 50_000_000;

/** A bank's file as it is sent. */
export const bankFileSchema = object({
  name: string().trim().required("The file has no name").max(200),
  /** base64 */
  content: string()
    .required("The file is empty")
    .max(Math.ceil(MAX_STATEMENT_FILE / 3) * 4, "The file is larger than 50 MB"),
});
