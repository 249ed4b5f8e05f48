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
import { makeSeal, signSeal, type SignedSeal } from "./seal";

/** Where the key and the signed seals lie: beside the books and never within them. */
export interface SealPlace {
  folder: string;
}

/** Beside a data folder, or where YELLOW_ANCHOR_SEALS says. */
export const sealPlace = (dataFolder: string): SealPlace => ({
  folder: path.resolve(
    /*turbopackIgnore: true*/ process.env.YELLOW_ANCHOR_SEALS ?? `${dataFolder}.seals`,
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
    });
  }
  const key = createPrivateKey(readFileSync(file));
  return { key, publicKey: publicText(key) };
}
const publicText = (key: KeyObject): string =>
  createPublicKey(key).export({ type: "spki", format: "pem" }).toString();

/** The public part, to be kept by whoever checks; null before the first seal. */
export const publicKeyOf = (place: SealPlace): string | null =>
  existsSync(keyFile(place)) ? publicText(createPrivateKey(readFileSync(keyFile(place)))) : null;

/** Seals what has become final, and writes the signed seal beside the books. Null where nothing has. */
export async function sealNow(
  database: Database,
  place: SealPlace,
  now = new Date(),
): Promise<SignedSeal | null> {
  const { key, publicKey } = keyOf(place);
  const seal = await makeSeal(database, now);
  if (!seal) return null;
  const signed = signSeal(seal, key, publicKey);
  const file = path.join(place.folder, `seal-${String(seal.no).padStart(6, "0")}.json`);
  writeFileSync(`${file}.part`, `${JSON.stringify(signed, null, 2)}\n`);
  renameSync(`${file}.part`, file);
  return signed;
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
