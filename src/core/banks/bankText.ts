import { passesMod97 } from "../shared";

/**
 * Letters as banks take them, by the best practices for the requirements on character sets of the
 * European payments (EPC 217-08): Latin with marks, Greek as in ELOT 743, Cyrillic as its letters
 * are read. What falls apart into a basic letter and a mark needs no row.
 */
const LETTERS: Readonly<Record<string, string>> = {
  ...pairs("ß ss Æ AE æ ae Œ OE œ oe Ø O ø o Å A å a Ð D ð d Đ D đ d Þ Th þ th Ł L ł l Ħ H ħ h"),
  ...pairs("ı i ĸ k Ŋ N ŋ n Ŧ T ŧ t ſ s ẞ SS & + – - — - ’ ' ‘ ' “ ' ” ' « ' » ' · . … ..."),
  ...pairs(
    "Α A Β V Γ G Δ D Ε E Ζ Z Η I Θ TH Ι I Κ K Λ L Μ M Ν N Ξ X Ο O Π P Ρ R Σ S Τ T Υ Y Φ F Χ CH Ψ PS Ω O",
  ),
  ...pairs(
    "α a β v γ g δ d ε e ζ z η i θ th ι i κ k λ l μ m ν n ξ x ο o π p ρ r σ s ς s τ t υ y φ f χ ch ψ ps ω o",
  ),
  ...pairs(
    "А A Б B В V Г G Д D Е E Ж ZH З Z И I Й Y К K Л L М M Н N О O П P Р R С S Т T У U Ф F Х H Ц TS Ч CH Ш SH Щ SHT Ъ A Ь Y Ы Y Э E Ю YU Я YA",
  ),
  ...pairs(
    "а a б b в v г g д d е e ж zh з z и i й y к k л l м m н n о o п p р r с s т t у u ф f х h ц ts ч ch ш sh щ sht ъ a ь y ы y э e ю yu я ya",
  ),
  ...pairs(
    "Ё E ё e І I і i Ї I ї i Є YE є ye Ґ G ґ g Ђ D ђ d Ћ C ћ c Џ DZ џ dz Љ LJ љ lj Њ NJ њ nj Ј J ј j",
  ),
};

function pairs(text: string): Record<string, string> {
  const words = text.split(" ");
  return Object.fromEntries(
    Array.from({ length: words.length / 2 }, (_, i) => [words[2 * i]!, words[2 * i + 1]!]),
  );
}

const plainLetter = (c: string): string => {
  const known = LETTERS[c];
  if (known !== undefined) return known;
  const bare = c.normalize("NFD").replace(/[\u0300-\u036f]/g, "");
  return LETTERS[bare] ?? bare;
};

/**
 * Text in the letters that every bank takes (EPC 217-08: basic Latin, figures and / - ? : ( ) . , '
 * +), cut to a length. What has no likeness becomes a full stop.
 */
export function bankText(text: string, length: number): string {
  const plain = [...text.normalize("NFC")].map(plainLetter).join("").replace(/\s+/g, " ");
  // A slash at an end, or two of them, means something to banks.
  return plain
    .replace(/[^A-Za-z0-9/\-?:().,'+ ]/g, ".")
    .replace(/\/{2,}/g, "/")
    .replace(/^[/ ]+/, "")
    .slice(0, length)
    .replace(/[/ ]+$/, "");
}

/** Whether of a text nothing is left that a bank could read: full stops in the place of letters. */
export const isUnreadable = (text: string): boolean => {
  const written = bankText(text, 1000);
  return !/[A-Za-z0-9]/.test(written);
};

/** As many of the references as fit, and a word where some do not: the advice lists them all. */
export function remittanceText(references: readonly string[], length = 140): string {
  const whole = bankText(references.join(" "), 10_000);
  if (whole.length <= length) return whole;
  const word = " and more, see advice";
  const fitting: string[] = [];
  for (const r of references) {
    if (bankText([...fitting, r].join(" "), 10_000).length > length - word.length) break;
    fitting.push(r);
  }
  return bankText(`${fitting.join(" ")}${word}`, length);
}

/**
 * Whether a text is a creditor reference (ISO 11649): RF, two check digits by ISO 7064 mod 97-10,
 * and up to 21 letters and figures.
 */
export function isCreditorReference(text: string): boolean {
  const plain = text.replace(/\s/g, "").toUpperCase();
  return /^RF\d{2}[A-Z0-9]{1,21}$/.test(plain) && passesMod97(plain.slice(4) + plain.slice(0, 4));
}

/**
 * The creditor reference (ISO 11649) of a number of ours: RF, its check digits, and its letters and
 * figures. "" where it has none or more than 21.
 */
export function creditorReference(number: string): string {
  const own = number.toUpperCase().replace(/[^A-Z0-9]/g, "");
  if (!/^[A-Z0-9]{1,21}$/.test(own)) return "";
  const digits = [...`${own}RF00`].map((c) => parseInt(c, 36).toString()).join("");
  return `RF${(98n - (BigInt(digits) % 97n)).toString().padStart(2, "0")}${own}`;
}

/** What looks like a creditor reference and fails its check digits: a slip of the pen. */
export const isSpoiltReference = (text: string): boolean =>
  /^RF\s?\d{2}[\sA-Z0-9]{5,30}$/i.test(text.trim()) && !isCreditorReference(text);
