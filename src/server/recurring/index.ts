export { defineEnd, defineSkip } from "./acts";
export { recurringKey, type Recurring, type RecurringKind } from "./kind";
export { keepRecurring, type RecurringEntry } from "./keep";
export { dueOf, readRecurring } from "./stored";
export { LATER } from "./later";
export { runPlaceUpTo } from "./runPlace";
