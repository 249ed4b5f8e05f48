import { listPeople, savePerson } from "@/server/access";
import { listApprovalRules, saveApprovalRule } from "@/server/approvals";
import { listBankAccounts, saveBankAccount } from "@/server/banks";
import { loadOpening } from "@/server/ledger";
import {
  addYear,
  deleteAccount,
  deleteHeading,
  dimensionTree,
  listBooks,
  loadChart,
  loadDimensionValues,
  saveAccount,
  saveBook,
  saveCompany,
  saveDimension,
  saveDimensionValue,
  saveHeading,
  saveJournalType,
  switchPeriods,
} from "@/server/organisation";
import { listContacts, listTerms, loadContacts, loadPartners, saveTerms } from "@/server/partners";
import { payablesSettings, savePayablesSettings } from "@/server/payables";
import {
  deleteCleanUpRule,
  listCleanUpRules,
  listShares,
  listTolerances,
  saveCleanUpRule,
  saveShares,
  saveTolerance,
} from "@/server/purchasing";
import { makeOutlines } from "@/server/statements";
import { listTaxCodes, saveTaxCode } from "@/server/taxes";
import { asks } from "./asks";
import type { Endpoint } from "./endpoint";

const made = { status: 201 };
const LOADED = { example: { added: 12, changed: 0, same: 0, problems: [] } };

/** What is set up once and changed now and then. */
export const SET_UP_ENDPOINTS: readonly Endpoint[] = [
  asks("post", "/companies", saveCompany, "Add a company, or change one", made),
  asks("post", "/outlines", makeOutlines, "Make the statements out of the chart's headings", made),
  asks("get", "/people", listPeople, "People with their rights, in the companies one sees"),
  asks("post", "/people", savePerson, "Add a person, or change one and their rights", made),
  asks("get", "/books", listBooks, "Accounting bases"),
  asks("post", "/books", saveBook, "Add a book, name it anew, or end it", made),
  asks("post", "/headings", saveHeading, "Add a heading of the chart, or change one", made),
  asks("post", "/accounts", saveAccount, "Add an account, or change one", made),
  asks("post", "/headings/{code}/delete", deleteHeading, "Delete a heading with nothing under it"),
  asks("post", "/accounts/{number}/delete", deleteAccount, "Delete an account while it is unused"),
  asks(
    "post",
    "/accounts/load",
    loadChart,
    "Check a chart as a table; with take, take it in",
    LOADED,
  ),
  asks("get", "/dimensions", dimensionTree, "Dimensions with their values"),
  asks("post", "/dimensions", saveDimension, "Add a dimension, or change one", made),
  asks("post", "/dimension-values", saveDimensionValue, "Add a value, or change one", made),
  asks(
    "post",
    "/dimension-values/load",
    loadDimensionValues,
    "Check values as a table; with take, take them in",
    LOADED,
  ),
  asks("post", "/years", addYear, "Add a year with its periods", made),
  asks("post", "/periods/switch", switchPeriods, "Open, close or open again periods of a company"),
  asks(
    "post",
    "/opening-balances",
    loadOpening,
    "Check opening balances as a table; with take, post them",
    LOADED,
  ),
  asks("post", "/journal-types", saveJournalType, "Add a type of journal, or change one", made),
  asks("get", "/approval-rules", listApprovalRules, "Who has to approve what"),
  asks("post", "/approval-rules", saveApprovalRule, "Add a rule, or change one", made),
  asks("get", "/bank-accounts", listBankAccounts, "Own bank accounts"),
  asks("post", "/bank-accounts", saveBankAccount, "Add a bank account, or change one", made),
  asks(
    "post",
    "/partners/load",
    loadPartners,
    "Check partners as a table; with take, take them in",
    LOADED,
  ),
  asks("get", "/contacts", listContacts, "Whom one speaks to at customers"),
  asks(
    "post",
    "/contacts/load",
    loadContacts,
    "Check contacts as a table; with take, take them in",
    LOADED,
  ),
  asks("get", "/terms", listTerms, "Terms of payment"),
  asks("post", "/terms", saveTerms, "Add terms, or change them", made),
  asks("get", "/tax-codes", listTaxCodes, "Tax codes with their rates"),
  asks("post", "/tax-codes", saveTaxCode, "Add a tax code, or change one", made),
  asks("get", "/shares", listShares, "How costs are split"),
  asks("post", "/shares", saveShares, "Add a split, or change one", made),
  asks("get", "/clean-up-rules", listCleanUpRules, "Rules of what is taken off", {
    quantities: ["quantity"],
  }),
  asks("post", "/clean-up-rules", saveCleanUpRule, "Add a rule, or change one", made),
  asks("post", "/clean-up-rules/{id}/delete", deleteCleanUpRule, "Delete a rule"),
  asks("get", "/tolerances", listTolerances, "How far an invoice may differ from its order"),
  asks("post", "/tolerances", saveTolerance, "Set a tolerance, or remove one", made),
  asks("get", "/payables-settings", payablesSettings, "Settings of payables"),
  asks("post", "/payables-settings", savePayablesSettings, "Change them"),
];
