import type { Writing } from "../shared";

/** The languages in which papers go out. */
export const LETTER_LANGUAGES = ["en", "de", "fr", "es"] as const;
export type LetterLanguage = (typeof LETTER_LANGUAGES)[number];

export const LANGUAGE_NAMES: Readonly<Record<LetterLanguage, string>> = {
  en: "English",
  de: "German",
  fr: "French",
  es: "Spanish",
};

/** The kinds of paper that have a letter. */
export const LETTER_KINDS = ["order", "remittance", "sale"] as const;
export type LetterKind = (typeof LETTER_KINDS)[number];
export const LETTER_KIND_NAMES: Readonly<Record<LetterKind, string>> = {
  order: "Order",
  remittance: "Remittance advice",
  sale: "Invoice",
};

const WORDS = {
  order: ["Order", "Bestellung", "Commande", "Pedido"],
  remittance: ["Remittance advice", "Zahlungsavis", "Avis de paiement", "Aviso de pago"],
  sale: ["Invoice", "Rechnung", "Facture", "Factura"],
  creditNote: ["Credit note", "Gutschrift", "Avoir", "Nota de abono"],
  corrects: ["Corrects", "Zu Rechnung", "Corrige", "Corrige"],
  due: ["Due", "Fällig", "Échéance", "Vencimiento"],
  yourTaxNumber: ["Your tax number", "Ihre USt-IdNr.", "Votre n° de TVA", "Su NIF-IVA"],
  less: ["Less {percent} %", "Abzüglich {percent} %", "Remise {percent} %", "Menos {percent} %"],
  payTo: ["Pay to", "Zahlbar an", "À payer à", "Pagar a"],
  withReference: ["With reference", "Verwendungszweck", "Avec référence", "Con referencia"],
  scan: ["Scan to pay", "Zum Zahlen scannen", "Scanner pour payer", "Escanear para pagar"],
  until: [
    "until {day}: {amount} less",
    "bis {day}: {amount} weniger",
    "jusqu’au {day} : {amount} de moins",
    "hasta el {day}: {amount} menos",
  ],
  number: ["Number", "Nummer", "Numéro", "Número"],
  date: ["Date", "Datum", "Date", "Fecha"],
  yourNumber: ["Your number with us", "Ihre Nummer bei uns", "Votre code chez nous", "Su número"],
  contact: ["Contact", "Ansprechpartner", "Contact", "Contacto"],
  terms: ["Payment terms", "Zahlungsbedingungen", "Conditions de paiement", "Condiciones de pago"],
  currency: ["Currency", "Währung", "Devise", "Moneda"],
  deliverTo: ["Deliver to", "Lieferanschrift", "Adresse de livraison", "Entregar en"],
  taxNumber: ["Tax number", "USt-IdNr.", "N° de TVA", "NIF-IVA"],
  no: ["No.", "Pos.", "N°", "N.º"],
  description: ["Description", "Bezeichnung", "Désignation", "Descripción"],
  delivery: ["Delivery date", "Liefertermin", "Livraison", "Entrega"],
  quantity: ["Quantity", "Menge", "Quantité", "Cantidad"],
  price: ["Unit price", "Einzelpreis", "Prix unitaire", "Precio"],
  amount: ["Amount", "Betrag", "Montant", "Importe"],
  net: ["Net", "Netto", "Net", "Base"],
  tax: ["Tax", "Steuer", "TVA", "IVA"],
  total: ["Total", "Gesamt", "Total", "Total"],
  approvedBy: ["Approved by", "Genehmigt von", "Approuvé par", "Aprobado por"],
  reference: ["Your reference", "Ihre Referenz", "Votre référence", "Su referencia"],
  invoiceDate: ["Invoice date", "Rechnungsdatum", "Date de facture", "Fecha de factura"],
  settled: ["Settled", "Ausgeglichen", "Réglé", "Liquidado"],
  discount: ["Discount", "Skonto", "Escompte", "Descuento"],
  paid: ["Paid", "Gezahlt", "Payé", "Pagado"],
  paidTo: ["Paid to", "Gezahlt auf", "Payé sur", "Pagado en"],
  method: ["Payment method", "Zahlungsart", "Mode de paiement", "Forma de pago"],
  transfer: ["Bank transfer", "Überweisung", "Virement", "Transferencia"],
  cheque: ["Cheque", "Scheck", "Chèque", "Cheque"],
  page: ["Page {n} of {of}", "Seite {n} von {of}", "Page {n} sur {of}", "Página {n} de {of}"],
} as const satisfies Record<string, readonly [string, string, string, string]>;
export type LetterWord = keyof typeof WORDS;

/** A word of a letter in a language. */
export const letterWord = (word: LetterWord, language: LetterLanguage): string =>
  WORDS[word][LETTER_LANGUAGES.indexOf(language)]!;

const OPENINGS: Readonly<Record<LetterKind, readonly [string, string, string, string]>> = {
  order: [
    "We order as follows. Please quote the order number on your delivery note and invoice.",
    "Wir bestellen wie folgt. Bitte geben Sie die Bestellnummer auf Lieferschein und Rechnung an.",
    "Nous vous commandons ce qui suit. Merci d’indiquer le numéro de commande sur vos documents.",
    "Pedimos lo siguiente. Indique el número de pedido en el albarán y en la factura.",
  ],
  sale: [
    "We invoice as follows.",
    "Wir stellen Ihnen in Rechnung:",
    "Nous vous facturons ce qui suit.",
    "Facturamos lo siguiente.",
  ],
  remittance: [
    "We have paid the items listed below.",
    "Wir haben die unten aufgeführten Posten bezahlt.",
    "Nous avons réglé les postes ci-dessous.",
    "Hemos pagado las partidas siguientes.",
  ],
};

/** What a letter of a kind begins with, where the company has set nothing of its own. */
export const usualOpening = (kind: LetterKind, language: LetterLanguage): string =>
  OPENINGS[kind][LETTER_LANGUAGES.indexOf(language)]!;

/** How figures and days are written in a language. */
export const writingOf = (language: LetterLanguage): Writing =>
  (
    ({
      en: { figures: "point", days: "words" },
      de: { figures: "comma", days: "points" },
      fr: { figures: "space", days: "slashes" },
      es: { figures: "comma", days: "slashes" },
    }) as const
  )[language];
