import { createHash } from "node:crypto";
import { boolean, string } from "yup";
import { openBatches } from "@/core/banks/statements";
import type { Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { insertAll, schema } from "../../db";
import { readOutside } from "../../files";
import { bankFileSchema } from "./bankFile";
import { tableReadingSchema } from "./bankTable";
import { comeByJob, STORED_AT_ONCE } from "./comingFiles";
import { lineRow } from "./lineRow";
import { placeFile, takeIn, type Imported, type StoreLines } from "./takeIn";

/**
 * Takes a bank's file of statements in, whole or not at all: each statement has to be of an account
 * of ours, in its currency, and not there yet. The bytes are kept as they came. Its lines are
 * matched at once; the lines of a large file are stored by a job, and matched by another.
 */
export const importStatements = defineUseCase({
  name: "importStatements",
  kind: "write",
  rights: ["prepare.banks"],
  what: "take bank statements in",
  of: "checked",
  schema: bankFileSchema.shape({
    /** Of a table: the account that it is of, how it is read, and what the account held before. */
    bank: string().trim().max(20).default(""),
    reading: tableReadingSchema.nullable().default(null),
    opening: string().trim().max(30).default(""),
    /** Whether the folder of the server brings it. */
    byFolder: boolean().default(false),
  }),
  prepare: (input) => readOutside("statements", input.name, Buffer.from(input.content, "base64")),
  run: async (context, input, read): Promise<Result<Imported>> => {
    const bytes = Buffer.from(input.content, "base64");
    const digest = createHash("sha256").update(bytes).digest("hex");
    const placed = await placeFile(context, { ...input, digest }, read);
    if (!placed.ok) return placed;
    const lines = placed.value.placed.reduce((t, p) => t + p.statement.lines.length, 0);
    const file = { ...input, digest, content: bytes.toString("base64") };
    if (lines > STORED_AT_ONCE)
      return comeByJob(context, file, { format: read.format, placed: placed.value.placed, lines });
    return takeIn(context, file, placed.value, keepLines);
  },
});

/** The lines of a statement, stored with the request that brings them. */
const keepLines: StoreLines = async ({ tx }, statementId, { statement, account }) => {
  const place = { statementId, companyId: account.companyId, bankAccountId: account.id };
  await insertAll(
    tx,
    schema.statementLine,
    openBatches(statement.lines).map((l, position) => lineRow({ ...place, position }, l)),
  );
};
