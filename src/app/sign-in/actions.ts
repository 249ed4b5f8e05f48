"use server";
import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { describeFound } from "@/core/shared";
import { allowed, signIn, signOut } from "@/server/access";
import { getDatabase } from "@/server/runtime";

import { SESSION_COOKIE } from "../lib/session";

export interface SignInState {
  message: string | null;
  login: string;
}

export async function signInAction(_before: SignInState, form: FormData): Promise<SignInState> {
  const login = String(form.get("login") ?? "");
  if (!allowed("sign-in", (await headers()).get("x-forwarded-for") ?? "local", 30))
    return { message: "Too many attempts. Wait a minute and try again.", login };
  const result = await signIn(
    await getDatabase(),
    login,
    String(form.get("password") ?? ""),
    "screen",
  );
  if (!result.ok) return { message: result.problems.map(describeFound).join(" "), login };
  (await cookies()).set(SESSION_COOKIE, result.value.secret, {
    httpOnly: true,
    sameSite: "lax",
    path: "/",
    expires: result.value.expiresAt,
    secure: process.env.YELLOW_ANCHOR_HTTPS === "1",
  });
  redirect("/today");
}

export async function signOutAction(): Promise<void> {
  const jar = await cookies();
  await signOut(await getDatabase(), jar.get(SESSION_COOKIE)?.value);
  jar.delete(SESSION_COOKIE);
  redirect("/sign-in");
}
