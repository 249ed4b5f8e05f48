export * from "./names";
export { type PartnerRow } from "./partnerRow";
export * from "./partnerViews";
export { partnersLike, type PartnerLike } from "./partnersLike";
export { savePartner } from "./savePartner";
export { loadPartners } from "./loadPartners";
export { partnerTable, type PartnerTable } from "./partnerTable";
export { addPartnerBank, decidePartnerBank } from "./partnerBanks";
export { listTerms, saveTerms, type TermsRow } from "./terms";
export * from "./collectors";
export { contactsOf, saveContacts, type PartnerContact } from "./contacts";
export { CONTACT_COLUMNS, listContacts, loadContacts, type ListedContact } from "./loadContacts";
export { groupRules, type GroupRule } from "./groupRules";
export {
  paymentTolerances,
  savePaymentTolerance,
  TOLERANCES,
  type GroupTolerance,
} from "./tolerances";
export {
  askForCreditLimit,
  decideCreditRequest,
  listCreditRequests,
  type CreditRequest,
} from "./creditRequests";
