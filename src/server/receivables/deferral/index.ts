export { revenueReleased } from "./closeCheck";
export { deferralRun } from "./deferralRun";
export { listDeferrals, type DeferralRow, type Deferrals } from "./listDeferrals";
