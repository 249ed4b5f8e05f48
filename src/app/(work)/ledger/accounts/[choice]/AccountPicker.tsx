"use client";
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { useWork } from "@/ui/frame/work";
import { accountList } from "./actions";

type Option = { number: string; name: string };

/**
 * Goes to other accounts at the same place: one by number or any part of its name, a heading with
 * all below it, or a range or list as typed.
 */
export function AccountPicker({ accounts: shown }: { accounts: string }) {
  const work = useWork();
  const router = useRouter();
  const [accounts, setAccounts] = useState<Option[]>([]);
  const [text, setText] = useState("");
  useEffect(() => void accountList().then(setAccounts), []);
  const wanted = text.trim().toLowerCase();
  const typed = /\.\.|,/.test(wanted) ? [{ number: text.trim(), name: "these accounts" }] : [];
  const found = [
    ...typed,
    ...accounts.filter((a) => `${a.number} ${a.name}`.toLowerCase().includes(wanted)).slice(0, 12),
  ];
  return (
    <Combobox<Option | null>
      value={null}
      onChange={(a) =>
        a &&
        router.push(
          work.link(
            `/ledger/accounts/${encodeURIComponent(a.number)}`,
            Object.fromEntries(
              ["companies", "value", "amounts", "scale", "chart", "as"].map((k) => [
                k,
                new URLSearchParams(window.location.search).get(k),
              ]),
            ),
          ),
        )
      }
      immediate
    >
      <ComboboxInput
        aria-label="Accounts"
        placeholder={`${shown} · other accounts`}
        title="A number, part of a name, a heading, 4010..4090, or a list with commas"
        className="field w-60"
        onChange={(e) => setText(e.target.value)}
        displayValue={() => text}
      />
      <ComboboxOptions
        anchor="bottom start"
        className="z-30 mt-1 w-96 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] empty:invisible"
      >
        {found.map((a) => (
          <ComboboxOption
            key={`${a.number} ${a.name}`}
            value={a}
            className="flex cursor-pointer gap-3 rounded px-2.5 py-1 data-focus:bg-sea-2"
          >
            <b className="font-semibold">{a.number}</b>
            {a.name}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
