"use server";
import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { describeFound } from "@/core/shared";
import { allowed, signIn, signOut } from "@/server/access";
import { getDatabase } from "@/server/runtime";
import { HTTPS, SESSION_COOKIE } from "../lib/session";
import { placeOnSite } from "../lib/placeOnSite";

export interface SignInState {
  message: string | null;
  login: string;
}

/** Signs in and sets the cookie; a sentence where that is refused. */
async function enter(login: string, password: string): Promise<string | null> {
  const address = (await headers()).get("x-forwarded-for") ?? "local";
  if (!allowed("sign-in", address, 30)) return "Too many attempts. Wait a minute and try again.";
  const result = await signIn(await getDatabase(), login, password, "screen", new Date(), address);
  if (!result.ok) return result.problems.map(describeFound).join(" ");
  (await cookies()).set(SESSION_COOKIE, result.value.secret, {
    httpOnly: true,
    sameSite: "lax",
    path: "/",
    expires: result.value.expiresAt,
    secure: HTTPS,
  });
  return null;
}

export async function signInAction(_before: SignInState, form: FormData): Promise<SignInState> {
  const login = String(form.get("login") ?? "");
  const message = await enter(login, String(form.get("password") ?? ""));
  if (message !== null) return { message, login };
  redirect(placeOnSite(String(form.get("to") ?? "")) ?? "/today");
}

/** In place, on a page that stays as it is. */
export const signInAgainAction = async (login: string, password: string): Promise<string | null> =>
  enter(String(login).slice(0, 200), String(password).slice(0, 1000));

export async function signOutAction(): Promise<void> {
  const jar = await cookies();
  await signOut(await getDatabase(), jar.get(SESSION_COOKIE)?.value);
  jar.delete(SESSION_COOKIE);
  redirect("/sign-in");
}
