// For auditors, with nothing but Node: node check-seals.mjs FOLDER [KEY.pem]
// FOLDER holds the signed seals as files, seal-000001.json and so on; or it is the one file that the
// application gives them in. Each has to be signed with the
// key (of the file KEY.pem that was handed over when the books began; else of the first seal), and to
// carry the digest of the one before. What a seal holds of the books themselves is proved with
// npm run admin -- verify --against FILE, where the books are.
import { verify } from "node:crypto";
import { readdirSync, readFileSync, statSync } from "node:fs";
import path from "node:path";

const [folder, keyFile] = process.argv.slice(2);
if (!folder) {
  console.error("node check-seals.mjs FOLDER [KEY.pem]");
  process.exit(2);
}
const seals = statSync(folder).isFile()
  ? JSON.parse(readFileSync(folder, "utf8")).seals
  : readdirSync(folder)
      .filter((f) => /^seal-\d+\.json$/.test(f))
      .sort()
      .map((f) => JSON.parse(readFileSync(path.join(folder, f), "utf8")));
if (seals.length === 0) {
  console.error("There is no seal in this folder.");
  process.exit(2);
}
const key = keyFile ? readFileSync(keyFile, "utf8") : seals[0].key;
let faults = 0;
const fault = (text) => {
  faults++;
  console.log(`FAILS  ${text}`);
};
seals.forEach((seal, i) => {
  const signed = verify(null, Buffer.from(seal.digest), key, Buffer.from(seal.signature, "base64"));
  if (!signed) fault(`seal ${seal.no} is not signed with the key`);
  const before = seals[i - 1];
  if (before && before.no === seal.no - 1 && seal.previous !== before.digest)
    fault(`seal ${seal.no} does not follow seal ${before.no}`);
  if (before && before.no !== seal.no - 1)
    fault(`between ${before.no} and ${seal.no} one is missing`);
  for (const h of before?.heads ?? []) {
    const now = seal.heads.find((x) => x.company === h.company);
    if (!now || BigInt(now.seq) < BigInt(h.seq))
      fault(`seal ${seal.no}: ${h.company} has fewer journals`);
  }
});
const last = seals.at(-1);
console.log(`${seals.length} seals, ${seals[0].at} to ${last.at}`);
for (const h of last.heads) console.log(`${h.company}  journal ${h.seq}  ${h.hash}`);
console.log(faults === 0 ? "holds" : `${faults} faults`);
process.exit(faults === 0 ? 0 : 1);
