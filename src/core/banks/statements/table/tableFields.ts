import { plainName } from "../../../shared";

/** What a column of a bank's table can mean. */
export const TABLE_FIELDS = [
  "booked",
  "valued",
  "amount",
  "in",
  "out",
  "side",
  "currency",
  "balance",
  "party",
  "partyAccount",
  "text",
  "kind",
  "endToEnd",
  "cheque",
  "bankReference",
  "own",
] as const;
export type TableField = (typeof TABLE_FIELDS)[number];

/** Fields of which several columns can be: their texts stand one after the other. */
export const JOINED: readonly TableField[] = ["text"];

export const FIELD_WORDS: Readonly<Record<TableField, string>> = {
  booked: "Booking date",
  valued: "Value date",
  amount: "Amount, with its sign",
  in: "Money in",
  out: "Money out",
  side: "Mark of in or out",
  currency: "Currency",
  balance: "Balance after it",
  party: "Name of the other side",
  partyAccount: "Account of the other side",
  text: "Text",
  kind: "Kind of movement",
  endToEnd: "End-to-end id",
  cheque: "Cheque number",
  bankReference: "Bank's reference",
  own: "Our account",
};

/**
 * Headings by which each meaning goes, in small letters without marks: English, German, French,
 * Spanish, Italian, Dutch, Polish, Portuguese.
 */
const NAMES: Readonly<Record<TableField, string>> = {
  booked:
    "bookingdate bookeddate booked date postingdate transactiondate entrydate buchungstag " +
    "buchungsdatum buchung datum dateoperation datedoperation datecomptable date datecomptabilisation " +
    "fecha fechaoperacion fechacontable data datacontabile dataoperazione boekdatum " +
    "transactiedatum datum dataksiegowania dataoperacji datamovimento datalancamento",
  valued:
    "valuedate value valuta valutadatum wertstellung wertstellungstag datevaleur datedevaleur " +
    "fechavalor datavaluta rentedatum datawaluty datavalor",
  amount:
    "amount transactionamount betrag umsatz montant importe importo bedrag kwota kwotaoperacji " +
    "montante valor",
  in: "credit credits moneyin paidin deposit deposits haben gutschrift eingang creditamount abono abonos haber accrediti entrate avere bij uznania credito entradas",
  out: "debit debits moneyout paidout withdrawal withdrawals soll lastschrift ausgang debitamount cargo cargos debe addebiti uscite dare af obciazenia debito saidas",
  side: "sign creditdebit debitcredit crdr drcr dc cd sollhaben sollhabenkennzeichen shkennzeichen kennzeichen sens afbij bijaf segno",
  currency: "currency ccy wahrung waehrung devise divisa moneda valuta waluta moeda",
  balance:
    "balance runningbalance closingbalance saldo saldonachbuchung saldonachmutatie kontostand solde " +
    "saldopooperacji saldoaposmovimento saldocontabile",
  party:
    "name counterparty counterpartyname payee payer beneficiary payeepayer beguenstigterzahlungspflichtiger " +
    "begunstigterzahlungspflichtiger auftraggeberempfanger auftraggeber empfanger zahlungsempfanger " +
    "beneficiaire contrepartie nomcontrepartie beneficiario ordenante controparte naamtegenpartij " +
    "tegenpartij nadawcaodbiorca kontrahent beneficiarioordenante contraparte",
  partyAccount:
    "counterpartyaccount counterpartyiban iban kontonummeriban ibancontrepartie comptecontrepartie " +
    "ibancontraparte ibancontroparte tegenrekening rachunekkontrahenta",
  text:
    "text details description narrative remittanceinformation reference paymentreference memo " +
    "verwendungszweck zweck libelle communication concepto observaciones descrizione causale " +
    "omschrijving mededelingen mededeling tytul tytuloperacji opis descricao descritivo",
  kind: "type transactiontype kind buchungstext umsatzart typeoperation tipo tipomovimiento tipooperazione mutatiesoort soort rodzajoperacji typtransakcji",
  endToEnd: "endtoendid endtoendreference endtoend kundenreferenz e2e",
  cheque: "cheque chequenumber checknumber checknumber schecknummer numerodecheque ncheque",
  bankReference: "bankreference transactionid transactionreference entryreference bankreferenz",
  own: "account accountnumber accountiban ouraccount auftragskonto konto compte cuenta conto rekening rachunek conta",
};
const FIELDS_OF = new Map<string, TableField[]>();
for (const [field, names] of Object.entries(NAMES) as [TableField, string][])
  for (const name of new Set(names.split(" ")))
    FIELDS_OF.set(name, [...(FIELDS_OF.get(name) ?? []), field]);

/**
 * What each heading means; null where it means nothing here. A meaning is given once, to the first
 * heading that has it, but for texts.
 */
export function fieldsOfHeadings(headings: readonly string[]): (TableField | null)[] {
  const taken = new Set<TableField>();
  return headings.map((heading) => {
    const wanted = FIELDS_OF.get(plainName(heading)) ?? [];
    const field = wanted.find((f) => JOINED.includes(f) || !taken.has(f));
    if (!field) return null;
    taken.add(field);
    return field;
  });
}
