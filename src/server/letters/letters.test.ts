import { expect, test } from "vitest";
import { LETTER_KINDS } from "@/core/letters";
import { callerOf, codes, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { getLetterLayout, sampleLetter, saveLetterLayout } from "./index";

const w = world();
/** A picture of one point. */
const LOGO =
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==";

test("a company's letters are set up once by whoever may, kept, and come out in each kind, in one language and another", async () => {
  const admin = await callerOf(w.database, "admin");
  const layout = must(await getLetterLayout(admin, { company: "ALP" }));
  expect(layout).toMatchObject({ company: "ALP", logo: "", windowRight: false });
  const wanted = {
    ...layout,
    logo: LOGO,
    windowRight: true,
    register: "Register of Ostry, 4481",
    deliverTo: "Alpha, Shed 4\n1000 Ostry",
    texts: { ...layout.texts, order_de_opening: "Moin, wir bestellen:" },
  };
  expect(codes(await saveLetterLayout(await callerOf(w.database, "payables"), wanted))).toEqual([
    "FORBIDDEN",
  ]);
  expect(
    codes(await saveLetterLayout(admin, { ...wanted, logo: "PHN2Zz4=", email: "nobody" })),
  ).toEqual(["INVALID", "INVALID"]);
  // One that begins well and is broken further on would end more than its letter.
  for (const broken of [`${LOGO.slice(0, 60)}AAAA${LOGO.slice(64)}`, LOGO.slice(0, 48), "/9j/AAAA"])
    expect(codes(await saveLetterLayout(admin, { ...wanted, logo: broken }))).toEqual(["INVALID"]);
  must(await saveLetterLayout(admin, wanted));
  expect(must(await getLetterLayout(admin, { company: "ALP" }))).toEqual(wanted);
  // Another company has its own.
  expect(must(await getLetterLayout(admin, { company: "BET" })).logo).toBe("");
  for (const kind of LETTER_KINDS)
    for (const language of ["en", "de"] as const) {
      const { file } = must(await sampleLetter(admin, { company: "ALP", kind, language }));
      expect(Buffer.from(file).subarray(0, 5).toString()).toBe("%PDF-");
    }
});
