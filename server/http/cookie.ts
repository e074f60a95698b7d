/** The cookie in which a browser keeps the secret of a sign-in. */
export const signInCookie = "lapwing_sign_in";

/** The secret of a sign-in in a request's cookies; null where there is none. */
export function signInSecretOf(cookies: string | null | undefined): string | null {
  const found = (cookies ?? "").split(";").find((cookie) => cookie.trim().startsWith(`${signInCookie}=`));
  return found?.trim().slice(signInCookie.length + 1) || null;
}
