/** What a remark tells of; a note where nothing else is said. */
export const REMARK_KINDS = ["note", "call", "letter", "mail in", "mail out", "visit"] as const;
export type RemarkKind = (typeof REMARK_KINDS)[number];
