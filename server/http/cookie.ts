/** The cookie in which a browser keeps the secret of a sign-in. */
export const signInCookie = "lapwing_sign_in";

/** The cookie by which a laboratory's computer is known. */
export const computerCookie = "lapwing_computer";

/** The secret of a laboratory's computer in a request's cookies; null where there is none. */
export const computerSecretOf = (cookies: string | null | undefined): string | null =>
  cookieIn(cookies, computerCookie);

/** The cookie in which a browser keeps the secret of a reading link. */
export const readerCookie = "lapwing_reading";

/** The secret of a reading link in a request's cookies; null where there is none. */
export const readerSecretOf = (cookies: string | null | undefined): string | null => cookieIn(cookies, readerCookie);

/** The cookie in which a browser keeps what it needs when it comes back from a provider of sign-ins. */
export const providerCookie = "lapwing_provider";

/** What a browser kept for coming back from a provider; null where there is nothing. */
export const providerKeptOf = (cookies: string | null | undefined): string | null => cookieIn(cookies, providerCookie);

/** The secret of a sign-in in a request's cookies; null where there is none. */
export const signInSecretOf = (cookies: string | null | undefined): string | null => cookieIn(cookies, signInCookie);

function cookieIn(cookies: string | null | undefined, name: string): string | null {
  const found = (cookies ?? "").split(";").find((cookie) => cookie.trim().startsWith(`${name}=`));
  return found?.trim().slice(name.length + 1) || null;
}
