"use client";
import { useState } from "react";
import type { BankAccount } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";

/** The picture of the signature that cheques of the account carry. */
export function Signature({ account }: { account: BankAccount }) {
  const { busy, messages, setMessages, act } = useAct();
  const [name, setName] = useState("");
  const take = async (file: File) => {
    setName(file.name);
    if (file.size > 200_000)
      return setMessages(["A signature is a PNG picture of at most 200 kB."]);
    const bytes = new Uint8Array(await file.arrayBuffer());
    let binary = "";
    for (const byte of bytes) binary += String.fromCharCode(byte);
    await act(
      () => saveRecordAction("signature", { code: account.code, picture: btoa(binary) }),
      "Cheques carry this signature from now on.",
    );
  };
  return (
    <div>
      <label className="label" htmlFor="signature">
        Signature on cheques (PNG){account.signed ? ", there is one" : ", none yet"}
      </label>
      <input
        id="signature"
        type="file"
        accept="image/png"
        disabled={busy}
        onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
      />
      {name && <p className="pt-0.5 text-xs text-ink-3">{name}</p>}
      <Problems messages={messages} />
    </div>
  );
}
