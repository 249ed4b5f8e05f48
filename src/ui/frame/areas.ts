import {
  Activity,
  ArrowDown,
  ArrowUp,
  BookText,
  Building2,
  ChartColumn,
  Landmark,
  Lock,
  Settings2,
  type LucideIcon,
} from "lucide-react";
import type { Right } from "@/core/access";

export type AreaCode =
  | "today"
  | "ledger"
  | "payables"
  | "receivables"
  | "banks"
  | "assets"
  | "statements"
  | "close"
  | "setup";

export interface AreaEntry {
  code: AreaCode;
  name: string;
  href: string;
  /** After `g`. */
  key: string;
  icon: LucideIcon;
  rights: readonly Right[];
}

/** The areas, in the order of the work. An area appears for those who may work or read in it. */
export const AREA_ENTRIES: readonly AreaEntry[] = [
  { code: "today", name: "Today", href: "/today", key: "t", icon: Activity, rights: [] },
  {
    code: "ledger",
    name: "Ledger",
    href: "/ledger",
    key: "l",
    icon: BookText,
    rights: ["read.ledger", "read.branch"],
  },
  {
    code: "payables",
    name: "Payables",
    href: "/payables",
    key: "p",
    icon: ArrowDown,
    rights: ["read.payables"],
  },
  {
    code: "receivables",
    name: "Receivables",
    href: "/receivables",
    key: "r",
    icon: ArrowUp,
    rights: ["read.receivables"],
  },
  {
    code: "banks",
    name: "Banks",
    href: "/banks",
    key: "b",
    icon: Landmark,
    rights: ["read.banks"],
  },
  {
    code: "assets",
    name: "Assets",
    href: "/assets",
    key: "a",
    icon: Building2,
    rights: ["read.assets"],
  },
  {
    code: "statements",
    name: "Statements",
    href: "/statements",
    key: "s",
    icon: ChartColumn,
    rights: ["read.statements"],
  },
  { code: "close", name: "Close", href: "/close", key: "c", icon: Lock, rights: ["read.close"] },
  {
    code: "setup",
    name: "Setup",
    href: "/setup",
    key: "e",
    icon: Settings2,
    rights: ["read.setup", "setup.organisation", "period.ledger"],
  },
];
