import { plainName } from "../shared";

/** What a column of a table from outside can mean. Dimensions stand as d.<code>. */
export const LOAD_FIELDS = [
  "journal",
  "date",
  "type",
  "book",
  "reference",
  "company",
  "account",
  "description",
  "debit",
  "credit",
  "amount",
  "currency",
  "quantity",
  "partner",
  "dueDate",
  "note",
] as const;
export type LoadField = (typeof LOAD_FIELDS)[number] | `d.${string}`;
type PlainField = (typeof LOAD_FIELDS)[number];

/**
 * Headings by which each meaning goes, in small letters without marks: English, German, French,
 * Spanish, Italian, Polish, Romanian, Dutch, Greek, Portuguese, Czech.
 */
const NAMES: Readonly<Record<PlainField, string>> = {
  journal:
    "journal journalno journalnumber journalkey entry entryno voucher voucherno documentno docno " +
    "beleg belegnr belegnummer buchungsnummer piece nopiece numerodepiece ecriture asiento " +
    "noasiento registrazione nregistrazione dowod nrdowodu nrnota boekstuk boekstuknummer αρεγγραφης " +
    "lancamento doklad cislodokladu",
  date:
    "date journaldate postingdate bookingdate day valuedate datum buchungsdatum belegdatum " +
    "dateecriture datedepiece fecha fechaasiento data dataregistrazione datarejestracji " +
    "dataksiegowania datainregistrarii boekdatum ημερομηνια datalancamento datumuctovani",
  type: "type journaltype buchungsart typedejournal tipo typ tip soort dagboek τυπος",
  book: "book books basis ledgerbook",
  reference:
    "reference ref document documentreference sourcedocument referenz documento referencia riferimento " +
    "odniesienie referinta referentie αναφορα odkaz",
  company:
    "company entity firma gesellschaft buchungskreis societe entreprise empresa sociedad azienda " +
    "societa spolka firmy societate bedrijf administratie εταιρεια spolecnost",
  account:
    "account accountno accountnumber glaccount ledgeraccount acct konto kontonr kontonummer " +
    "sachkonto compte nocompte numerodecompte cuenta nocuenta conto ncconto numeroconto " +
    "nrkonta numerkonta cont nrcont simbolcont rekening grootboek grootboekrekening λογαριασμος " +
    "conta ucet cislouctu",
  description:
    "description text linetext narrative details memo linedescription buchungstext beschreibung " +
    "libelle descripcion concepto descrizione causale opis tresc descriere explicatie omschrijving " +
    "περιγραφη αιτιολογια descricao historico popis",
  debit:
    "debit debits dr debitamount soll sollbetrag debe dare wn winien kwotawn debet χρεωση debito md " +
    "madati",
  credit:
    "credit credits cr creditamount haben habenbetrag haber avere ma kwotama πιστωση credito dal " +
    "dalstrana",
  amount:
    "amount value signedamount netamount sum betrag wert montant importe importo kwota suma valoare " +
    "bedrag ποσο valor montante castka",
  currency:
    "currency curr ccy currencycode wahrung waehrung devise moneda divisa valuta waluta νομισμα " +
    "moeda mena",
  quantity:
    "quantity qty units menge anzahl quantite cantidad quantita ilosc cantitate aantal hoeveelheid " +
    "ποσοτητα quantidade mnozstvi",
  partner:
    "partner supplier customer businesspartner lieferant kunde geschaftspartner fournisseur client " +
    "tiers proveedor cliente fornitore kontrahent dostawca furnizor leverancier klant προμηθευτης " +
    "πελατης fornecedor dodavatel odberatel",
  dueDate:
    "duedate due falligkeit faelligkeit falligam echeance datedecheance vencimiento scadenza termin " +
    "terminplatnosci scadent datascadentei vervaldatum ληξη vencimento splatnost",
  note: "note notes remark comment notiz bemerkung remarque nota observaciones uwagi opmerking σημειωση poznamka",
};
const FIELD_OF = new Map(
  (Object.entries(NAMES) as [PlainField, string][]).flatMap(([field, names]) =>
    names.split(" ").map((name) => [name, field] as const),
  ),
);

export interface LoadDimension {
  code: string;
  name: string;
}

/**
 * What each heading means; null where it means nothing here. A meaning is given once, to the first
 * heading that has it.
 */
export function readHeadings(
  headings: readonly string[],
  dimensions: readonly LoadDimension[],
): (LoadField | null)[] {
  const taken = new Set<LoadField>();
  return headings.map((heading) => {
    const text = plainName(heading);
    const dimension = dimensions.find(
      (d) => plainName(d.code) === text || plainName(d.name) === text,
    );
    const field: LoadField | undefined = dimension ? `d.${dimension.code}` : FIELD_OF.get(text);
    if (text === "" || !field || taken.has(field)) return null;
    taken.add(field);
    return field;
  });
}

/**
 * Whether a first row holds headings: at least two are understood, and none of its cells is a
 * figure.
 */
export const hasHeadings = (
  row: readonly string[],
  dimensions: readonly LoadDimension[],
): boolean =>
  readHeadings(row, dimensions).filter(Boolean).length >= 2 &&
  !row.some((cell) => /^[(\-−]?[\d.,' ]*\d[)\-]?$/.test(cell.trim()));

/**
 * The row of a table that holds its headings, among its first ten: a total or a title may stand
 * above it. -1 where none does.
 */
export const findHeadings = (
  table: readonly (readonly string[])[],
  dimensions: readonly LoadDimension[],
): number => table.slice(0, 10).findIndex((row) => hasHeadings(row, dimensions));
