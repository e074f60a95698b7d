import * as oidc from "openid-client";

/** What a provider says of somebody who signed in there. */
export type Told = { subject: string; email: string | null; isVerified: boolean; name: string };
/** A provider of sign-ins by OpenID Connect, as it is configured. */
export type Provider = {
  /** As it is called on the page for signing in. */
  name: string;
  /** Where a browser is sent to sign in, and what it keeps until it comes back to an address of ours. */
  begin: (back: string) => Promise<{ address: string; kept: string }>;
  /** Who signed in, by the address at which a browser came back and what it kept. */
  end: (came: URL, kept: string) => Promise<Told>;
};

type Settings = {
  issuer?: string | undefined;
  client?: string | undefined;
  secret?: string | undefined;
  name?: string | undefined;
};
type Kept = { state: string; nonce: string; verifier: string };

/** The provider by its settings; null where none is set, why where they are not whole. */
export function providerAt({ issuer, client, secret, name }: Settings): Provider | null | { reason: string } {
  if (!issuer) return null;
  if (!URL.canParse(issuer) || !/^https?:/.test(issuer))
    return { reason: "LAPWING_OIDC should be the address of a provider, such as https://login.example.org." };
  if (!client || !secret)
    return {
      reason: "With LAPWING_OIDC set LAPWING_OIDC_CLIENT and LAPWING_OIDC_SECRET too, as the provider gave them.",
    };
  let known: Promise<oidc.Configuration> | null = null;
  // Over plain HTTP only on this computer, to try it out.
  const isHere = /^http:\/\/(localhost|127\.0\.0\.1)(:|\/|$)/.test(issuer);
  const settings = () => {
    known ??= oidc
      .discovery(new URL(issuer), client, secret, undefined, isHere ? { execute: [oidc.allowInsecureRequests] } : {})
      .catch((error: unknown) => {
        known = null;
        throw error;
      });
    return known;
  };
  return {
    name: name || new URL(issuer).hostname,
    begin: async (back) => {
      const kept: Kept = {
        state: oidc.randomState(),
        nonce: oidc.randomNonce(),
        verifier: oidc.randomPKCECodeVerifier(),
      };
      const address = oidc.buildAuthorizationUrl(await settings(), {
        redirect_uri: back,
        scope: "openid email profile",
        code_challenge: await oidc.calculatePKCECodeChallenge(kept.verifier),
        code_challenge_method: "S256",
        state: kept.state,
        nonce: kept.nonce,
      });
      return { address: address.href, kept: Buffer.from(JSON.stringify(kept)).toString("base64url") };
    },
    end: async (came, kept) => {
      const { state, nonce, verifier } = JSON.parse(Buffer.from(kept, "base64url").toString("utf8")) as Kept;
      const tokens = await oidc.authorizationCodeGrant(await settings(), came, {
        pkceCodeVerifier: verifier,
        expectedState: state,
        expectedNonce: nonce,
        idTokenExpected: true,
      });
      const claims = tokens.claims();
      if (!claims) throw new Error("The provider did not say who signed in.");
      const text = (value: unknown) => (typeof value === "string" && value !== "" ? value.slice(0, 200) : null);
      const email = text(claims.email)?.toLowerCase() ?? null;
      return {
        subject: `${issuer} ${claims.sub}`.slice(0, 600),
        email,
        isVerified: claims.email_verified === true,
        name: text(claims.name) ?? email ?? "Somebody",
      };
    },
  };
}
