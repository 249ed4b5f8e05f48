import {
  createPrivateKey,
  createPublicKey,
  generateKeyPairSync,
  type KeyObject,
} from "node:crypto";
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  writeFileSync,
} from "node:fs";
import path from "node:path";
import type { Database } from "../db";
import { flush, writeWhole } from "../disk";
import { makeSeal, readSeals, signSeal, type Seal, type SignedSeal } from "./seal";

/** Where the key and the signed seals lie: beside the books and never within them. */
export interface SealPlace {
  folder: string;
}

/** Where the process that serves people seals; nobody else seals after an act. */
const held = globalThis as unknown as { yellowAnchorSeals?: SealPlace };
export const sealHere = (place: SealPlace | null): void =>
  void (held.yellowAnchorSeals = place ?? undefined);

/** Seals after an act that closes something, so that what is closed is signed at once. */
export async function sealAfterClosing(database: Database): Promise<void> {
  if (held.yellowAnchorSeals) await sealNow(database, held.yellowAnchorSeals);
}

/** In the data folder beside the database, or where YELLOW_ANCHOR_SEALS says. */
export const sealPlace = (dataFolder: string): SealPlace => ({
  folder: path.resolve(
    /*turbopackIgnore: true*/ process.env.YELLOW_ANCHOR_SEALS ?? path.join(dataFolder, "seals"),
  ),
});

const keyFile = ({ folder }: SealPlace): string => path.join(folder, "key.pem");

/** The key of the installation, made when it is first needed; only its owner may read it. */
function keyOf(place: SealPlace): { key: KeyObject; publicKey: string } {
  const file = keyFile(place);
  if (!existsSync(file)) {
    mkdirSync(place.folder, { recursive: true, mode: 0o700 });
    const { privateKey } = generateKeyPairSync("ed25519");
    writeFileSync(file, privateKey.export({ type: "pkcs8", format: "pem" }), {
      mode: 0o600,
      flag: "wx",
      flush: true,
    });
    flush(place.folder);
  }
  const key = createPrivateKey(readFileSync(file));
  return { key, publicKey: publicText(key) };
}
const publicText = (key: KeyObject): string =>
  createPublicKey(key).export({ type: "spki", format: "pem" }).toString();

/** The public part, to be kept by whoever checks; null before the first seal. */
export const publicKeyOf = (place: SealPlace): string | null =>
  existsSync(keyFile(place)) ? publicText(createPrivateKey(readFileSync(keyFile(place)))) : null;

const fileOf = ({ folder }: SealPlace, no: number): string =>
  path.join(folder, `seal-${String(no).padStart(6, "0")}.json`);

/**
 * Seals what has become final, and writes the signed seal beside the books. Null where nothing has.
 * What was signed is never written over. A seal of the books whose file is missing, because the
 * process died between the two, is signed again. Errors: where the books lack a seal that was
 * signed, or have another one: somebody has cut them off, or they are from a backup.
 */
export async function sealNow(
  database: Database,
  place: SealPlace,
  now = new Date(),
): Promise<SignedSeal | null> {
  const { key, publicKey } = keyOf(place);
  const kept = keptSeals(place);
  const last = kept.at(-1);
  const inBooks = await readSeals(database.db);
  const known = last && inBooks.find((s) => s.no === last.no);
  if (last && known?.digest !== last.digest)
    throw new Error(
      `The books ${known ? "have another" : "lack"} seal ${last.no} that was signed; nothing is sealed on`,
    );
  const write = (seal: Seal): SignedSeal => {
    const signed = signSeal(seal, key, publicKey);
    const file = fileOf(place, seal.no);
    writeWhole(file, `${JSON.stringify(signed, null, 2)}\n`);
    return signed;
  };
  const there = new Set(kept.map((s) => s.no));
  for (const seal of inBooks) if (!there.has(seal.no)) write(seal);
  const seal = await makeSeal(database, now);
  return seal && write(seal);
}

/**
 * Puts the signed seals that come after one aside, into a folder of their own: for books that were
 * restored from a backup. Gives their files.
 */
export function putAside(place: SealPlace, after: number, now = new Date()): string[] {
  const later = keptSeals(place).filter((s) => s.no > after);
  if (later.length === 0) return [];
  const folder = path.join(
    place.folder,
    `before-restore-${now.toISOString().replace(/[:.]/g, "-")}`,
  );
  mkdirSync(folder, { mode: 0o700 });
  return later.map(({ no }) => {
    const aside = path.join(folder, path.basename(fileOf(place, no)));
    renameSync(fileOf(place, no), aside);
    return aside;
  });
}

/** The signed seals that lie beside the books, oldest first. */
export const keptSeals = ({ folder }: SealPlace): SignedSeal[] =>
  existsSync(folder)
    ? readdirSync(folder)
        .filter((f) => /^seal-\d+\.json$/.test(f))
        .sort()
        .map((f) => readSeal(path.join(folder, f)))
    : [];

export const readSeal = (file: string): SignedSeal =>
  JSON.parse(readFileSync(file, "utf8")) as SignedSeal;
