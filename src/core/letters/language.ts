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
export const LETTER_KINDS = [
  "order",
  "remittance",
  "sale",
  "reminder",
  "statement",
  "promise",
  "debit",
] as const;
export type LetterKind = (typeof LETTER_KINDS)[number];
export const LETTER_KIND_NAMES: Readonly<Record<LetterKind, string>> = {
  order: "Order",
  remittance: "Remittance advice",
  sale: "Invoice",
  reminder: "Reminder",
  statement: "Statement of account",
  promise: "Promise of payment",
  debit: "Announcement of a direct debit",
};

const WORDS = {
  order: ["Order", "Bestellung", "Commande", "Pedido"],
  remittance: ["Remittance advice", "Zahlungsavis", "Avis de paiement", "Aviso de pago"],
  sale: ["Invoice", "Rechnung", "Facture", "Factura"],
  reminder: [
    "Payment reminder",
    "Zahlungserinnerung",
    "Rappel de paiement",
    "Recordatorio de pago",
  ],
  reminderAgain: [
    "Payment reminder no. {n}",
    "{n}. Mahnung",
    "Rappel de paiement n° {n}",
    "Recordatorio de pago n.º {n}",
  ],
  statement: ["Statement of account", "Kontoauszug", "Relevé de compte", "Extracto de cuenta"],
  promise: [
    "Confirmation of your promise to pay",
    "Bestätigung Ihrer Zahlungszusage",
    "Confirmation de votre promesse de paiement",
    "Confirmación de su compromiso de pago",
  ],
  debit: [
    "Announcement of a direct debit",
    "Ankündigung einer Lastschrift",
    "Annonce d’un prélèvement",
    "Aviso de adeudo directo",
  ],
  debited: ["Debited", "Eingezogen", "Prélevé", "Adeudado"],
  debitedOn: ["Debited on", "Eingezogen am", "Prélevé le", "Se adeuda el"],
  fromAccount: ["From account", "Von Konto", "Du compte", "De la cuenta"],
  mandate: ["Mandate", "Mandat", "Mandat", "Mandato"],
  creditorId: [
    "Creditor identifier",
    "Gläubiger-Identifikationsnummer",
    "Identifiant du créancier",
    "Identificador del acreedor",
  ],
  daysLate: ["Days late", "Tage überfällig", "Jours de retard", "Días de retraso"],
  invoiced: ["Invoiced", "Rechnungsbetrag", "Facturé", "Facturado"],
  open: ["Open", "Offen", "Solde dû", "Pendiente"],
  promised: ["Promised", "Zugesagt", "Promis", "Comprometido"],
  promisedFor: ["Promised for", "Zugesagt zum", "Promis pour le", "Comprometido para el"],
  overdue: ["Overdue", "Überfällig", "Échu", "Vencido"],
  fee: ["Reminder fee", "Mahngebühr", "Frais de rappel", "Gastos de recordatorio"],
  interest: [
    "Interest on late payment",
    "Verzugszinsen",
    "Intérêts de retard",
    "Intereses de demora",
  ],
  payBy: ["Please pay by", "Bitte zahlen bis", "À régler avant le", "Pagar antes del"],
  prepayment: [
    "Prepayment invoice",
    "Anzahlungsrechnung",
    "Facture d'acompte",
    "Factura de anticipo",
  ],
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
  deliveredTo: ["Delivered to", "Geliefert an", "Livré à", "Entregado en"],
  deliveredOn: ["Date of supply", "Leistungsdatum", "Date de livraison", "Fecha de entrega"],
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
  reminder: [
    "The items below are overdue. Perhaps our invoice has escaped your notice: please pay by {until}. If you have paid meanwhile, this letter needs no answer.",
    "Die unten aufgeführten Posten sind überfällig. Vielleicht ist unsere Rechnung Ihrer Aufmerksamkeit entgangen: Bitte zahlen Sie bis {until}. Haben Sie inzwischen gezahlt, ist dieses Schreiben gegenstandslos.",
    "Les postes ci-dessous sont échus. Notre facture vous a peut-être échappé : merci de régler avant le {until}. Si vous avez payé entre-temps, cette lettre est sans objet.",
    "Las partidas siguientes están vencidas. Quizá nuestra factura se le haya pasado por alto: le rogamos que pague antes del {until}. Si ya ha pagado, no tenga en cuenta esta carta.",
  ],
  statement: [
    "According to our books the items below are open on {day}. Please tell us if yours say otherwise.",
    "Nach unseren Büchern sind am {day} die unten aufgeführten Posten offen. Bitte teilen Sie uns mit, wenn Ihre Bücher davon abweichen.",
    "Selon nos livres, les postes ci-dessous sont ouverts au {day}. Merci de nous signaler toute différence avec les vôtres.",
    "Según nuestros libros, el {day} están pendientes las partidas siguientes. Le rogamos que nos comunique cualquier diferencia.",
  ],
  promise: [
    "Thank you for speaking with us. We have noted that you will pay the amounts below by {until}.",
    "Vielen Dank für das Gespräch. Wir haben vermerkt, dass Sie die unten aufgeführten Beträge bis {until} zahlen.",
    "Merci pour notre entretien. Nous avons noté que vous réglerez les montants ci-dessous avant le {until}.",
    "Gracias por la conversación. Hemos anotado que pagará los importes siguientes antes del {until}.",
  ],
  debit: [
    "By the mandate that you have given us we will debit the amounts below on {until}, {total} together. Please see to it that there is enough money in the account.",
    "Aufgrund Ihres Mandats ziehen wir die unten aufgeführten Beträge am {until} ein, zusammen {total}. Bitte sorgen Sie für ausreichende Deckung des Kontos.",
    "En vertu de votre mandat, nous prélèverons les montants ci-dessous le {until}, soit {total}. Merci de veiller à ce que le compte soit suffisamment approvisionné.",
    "En virtud de su mandato adeudaremos los importes siguientes el {until}, en total {total}. Le rogamos que haya saldo suficiente en la cuenta.",
  ],
  remittance: [
    "We have paid the items listed below.",
    "Wir haben die unten aufgeführten Posten bezahlt.",
    "Nous avons réglé les postes ci-dessous.",
    "Hemos pagado las partidas siguientes.",
  ],
};

/** What reminders of the second level begin with, and of those after it. */
const FIRMER: readonly (readonly [string, string, string, string])[] = [
  [
    "In spite of our reminder the items below are still open. Please pay by {until}.",
    "Trotz unserer Erinnerung sind die unten aufgeführten Posten noch offen. Bitte zahlen Sie bis {until}.",
    "Malgré notre rappel, les postes ci-dessous restent ouverts. Merci de régler avant le {until}.",
    "Pese a nuestro recordatorio, las partidas siguientes siguen pendientes. Le rogamos que pague antes del {until}.",
  ],
  [
    "You have not answered our reminders. Unless we receive {total} by {until}, we will take further steps without another letter.",
    "Auf unsere Mahnungen haben Sie nicht geantwortet. Geht der Betrag von {total} nicht bis {until} ein, leiten wir ohne weiteres Schreiben die nächsten Schritte ein.",
    "Nos rappels sont restés sans réponse. À défaut de paiement de {total} avant le {until}, nous engagerons d’autres démarches sans nouvelle lettre.",
    "No ha respondido a nuestros recordatorios. Si no recibimos {total} antes del {until}, tomaremos otras medidas sin más aviso.",
  ],
];

/** What a reminder of a level begins with, where its group has set nothing of its own. */
export const reminderOpening = (level: number, language: LetterLanguage): string =>
  (level <= 1 ? OPENINGS.reminder : FIRMER[Math.min(level - 2, FIRMER.length - 1)]!)[
    LETTER_LANGUAGES.indexOf(language)
  ]!;

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
