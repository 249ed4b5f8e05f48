"use client";
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { useWork } from "@/ui/frame/work";
import { accountList } from "./actions";

/** Goes to another account at the same place, by number or any part of the name. */
export function AccountPicker() {
  const work = useWork();
  const router = useRouter();
  const [accounts, setAccounts] = useState<{ number: string; name: string }[]>([]);
  const [text, setText] = useState("");
  useEffect(() => void accountList().then(setAccounts), []);
  const wanted = text.toLowerCase();
  const found = accounts.filter((a) => `${a.number} ${a.name}`.toLowerCase().includes(wanted)).slice(0, 12);
  return (
    <Combobox<{ number: string; name: string } | null> value={null} onChange={(a) => a && router.push(work.link(`/ledger/accounts/${a.number}`))} immediate>
      <ComboboxInput aria-label="Another account" placeholder="Another account" className="field w-44" onChange={(e) => setText(e.target.value)} displayValue={() => text} />
      <ComboboxOptions anchor="bottom start" className="z-30 mt-1 w-80 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] empty:invisible">
        {found.map((a) => (
          <ComboboxOption key={a.number} value={a} className="flex cursor-pointer gap-3 rounded px-2.5 py-1 data-focus:bg-sea-2">
            <b className="font-semibold">{a.number}</b>
            {a.name}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
