// Posts journals to a data folder or a server until it is killed, and says each number once it is
// acknowledged.
import { openDatabase } from "../../src/server/db";
import { findPerson } from "../../src/server/access";
import { createJournal } from "../../src/server/ledger";

const [where = "", company = "ALP", most = "1000000"] = process.argv.slice(2);
const database = await openDatabase(
  where.startsWith("postgres") ? { url: where } : { folder: where },
);
const person = await findPerson(database, "accountant");
process.stdout.write("ready\n");
for (let i = 0; i < Number(most); i++) {
  const amount = `${(i % 97) + 1}.00`;
  const result = await createJournal(
    { database, person },
    {
      company,
      type: "general",
      date: "2026-10-05",
      description: `Journal ${i}`,
      post: true,
      lines: [
        { account: "6310", dimensions: { costCentre: i % 2 ? "HARB" : "VESS" }, debit: amount },
        { account: "2410", credit: amount },
      ],
    },
  );
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  process.stdout.write(`${result.value.number}\n`);
}
await database.close();
