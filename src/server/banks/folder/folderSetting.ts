import { sql } from "drizzle-orm";
import { boolean, object } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { readSetting, rows, writeSetting } from "../../db";

export const FOLDER_SETTING = "banks.folder";

/** As whom files of the folder are taken in; nobody where they stay where they are. */
export interface FolderSetting {
  personId: number | null;
}

/** A file of the folder that was refused, with why. */
export interface RefusedFile {
  id: number;
  name: string;
  at: string;
  says: string;
}

export interface BankFolder {
  /** As whom it is taken in; null where it is not. */
  by: string | null;
  /** The newest first. */
  refused: RefusedFile[];
  mayChange: boolean;
}
const SHOWN = 50;

/**
 * Whether files that banks put into the folder of the server are taken in by themselves, and which of
 * them were refused: seen by whoever sees the banks of all companies, for a file can be of any.
 */
export const bankFolder = defineUseCase({
  name: "bankFolder",
  kind: "read",
  rights: ["read.banks"],
  what: "see files that banks put into the folder",
  of: "group",
  schema: object(),
  run: async (context): Promise<Result<BankFolder>> => {
    const { tx } = context;
    const setting = await readSetting<FolderSetting>(tx, FOLDER_SETTING);
    const [person] = await rows<{ name: string }>(
      tx,
      sql`select name from person where id = ${setting?.personId ?? 0} and active`,
    );
    const refused = await rows<Omit<RefusedFile, "id"> & { id: bigint }>(
      tx,
      sql`select id, name, at, says from folder_file where file_id is null
        order by id desc limit ${SHOWN}`,
    );
    return ok({
      by: person?.name ?? null,
      refused: refused.map((r) => ({ ...r, id: Number(r.id) })),
      mayChange: mayTakeFolder(context),
    });
  },
});

const mayTakeFolder = ({ mayEverywhere }: Context): boolean => mayEverywhere("prepare.banks");

/** Says that the folder's files are taken in, as oneself; or no longer. */
export const saveBankFolder = defineUseCase({
  name: "saveBankFolder",
  kind: "write",
  rights: ["prepare.banks"],
  what: "say whether files of the folder are taken in",
  of: "group",
  schema: object({ on: boolean().required() }),
  run: async (context, { on }): Promise<Result<unknown>> => {
    const { tx, person, audit } = context;
    const before = await readSetting<FolderSetting>(tx, FOLDER_SETTING);
    if (!on && !before?.personId)
      return fail({ code: "INVALID", what: "Nothing is taken from the folder now" });
    await writeSetting(tx, FOLDER_SETTING, { personId: on ? person.id : null });
    await audit({
      action: "changed",
      kind: "folder of bank files",
      recordId: FOLDER_SETTING,
      before,
      after: { on, person: person.login },
    });
    return ok({});
  },
});
