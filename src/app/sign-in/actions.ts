"use server";
import { cookies, headers } from "next/headers";
import { redirect } from "next/navigation";
import { describeFound } from "@/core/shared";
import { allowed, signIn, signOut } from "@/server/access";
import { getDatabase } from "@/server/runtime";
import { HTTPS, SESSION_COOKIE } from "../lib/session";
import { keepWriting, writingOf } from "../lib/writing";
import { placeOnSite } from "../lib/placeOnSite";

export interface SignInState {
  message: string | null;
  login: string;
  /** The password is right, and the code of the second factor is asked for. */
  needsCode: boolean;
}

type Refusal = Pick<SignInState, "needsCode"> & { message: string };

/** Signs in and sets the cookie; why not, where that is refused. */
async function enter(login: string, password: string, code: string): Promise<Refusal | null> {
  const address = (await headers()).get("x-forwarded-for") ?? "local";
  if (!allowed("sign-in", address, 30)) {
    const message = "Too many attempts. Wait a minute and try again.";
    return { message, needsCode: code !== "" };
  }
  const now = new Date();
  const database = await getDatabase();
  const result = await signIn(database, login, password, "screen", now, address, code);
  if (!result.ok)
    return {
      message: result.problems.map(describeFound).join(" "),
      needsCode: result.problems.some((p) => p.code.startsWith("SECOND_FACTOR")),
    };
  (await cookies()).set(SESSION_COOKIE, result.value.secret, {
    httpOnly: true,
    sameSite: "lax",
    path: "/",
    expires: result.value.expiresAt,
    secure: HTTPS,
  });
  await keepWriting(await writingOf(database, result.value.secret));
  return null;
}

export async function signInAction(_before: SignInState, form: FormData): Promise<SignInState> {
  const login = String(form.get("login") ?? "");
  const password = String(form.get("password") ?? "");
  const refused = await enter(login, password, String(form.get("code") ?? ""));
  if (refused) return { ...refused, login };
  redirect(placeOnSite(String(form.get("to") ?? "")) ?? "/today");
}

/** In place, on a page that stays as it is. */
export const signInAgainAction = async (
  login: string,
  password: string,
  code: string,
): Promise<Refusal | null> =>
  enter(String(login).slice(0, 200), String(password).slice(0, 1000), String(code).slice(0, 40));

export async function signOutAction(): Promise<void> {
  const jar = await cookies();
  await signOut(await getDatabase(), jar.get(SESSION_COOKIE)?.value);
  jar.delete(SESSION_COOKIE);
  redirect("/sign-in");
}
