import { moneyReversed, type ExpectsAtBank } from "../banks";
import { paidMonthly } from "../cash";
import { checksHold } from "../closing";
import { reverseDue, type WhenReversed } from "../ledger";
import type { CloseGuard, WhenOpened } from "../organisation";
import { arriveFromGroup, invoicesToCome, releaseFitting } from "../payables";
import type { AfterGoodsReceipt } from "../purchasing";
import type { ArrivesInGroup } from "../receivables";
import { takeBackTaxes } from "../taxes";

/** What has to hold before a period of the ledger closes. */
export const BEFORE_CLOSING: readonly CloseGuard[] = [checksHold];

/** What happens by itself when periods of the ledger have opened in every book. */
export const WHEN_OPENED: readonly WhenOpened[] = [reverseDue];

/** What is looked at again when an order is received or changed. */
export const AFTER_GOODS_RECEIPT: readonly AfterGoodsReceipt[] = [releaseFitting];

/** What every reversal takes back besides its journal. */
export const WHEN_REVERSED: readonly WhenReversed[] = [takeBackTaxes, moneyReversed];

/** What is expected on statements of banks though no item is open for it. */
export const EXPECTED_AT_BANK: readonly ExpectsAtBank[] = [invoicesToCome, paidMonthly];

/** How an invoice to another company of the group arrives there. */
export const ARRIVES_IN_GROUP: ArrivesInGroup = arriveFromGroup;
