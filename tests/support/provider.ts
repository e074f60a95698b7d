import { createHash } from "node:crypto";
import express from "express";
import type { AddressInfo } from "node:net";
import { calculateJwkThumbprint, exportJWK, generateKeyPair, SignJWT } from "jose";

/** Who signs in at the provider next, and what it says of them. */
export type Person = { sub: string; email?: string; email_verified?: boolean; name?: string };

/**
 * A small provider of sign-ins by OpenID Connect: whoever comes is signed in as the next person. It checks the client's secret and
 * that a code is used once, with the verifier its challenge was made of.
 */
export async function startProvider(client: string, secret: string) {
  const { publicKey, privateKey } = await generateKeyPair("RS256");
  const jwk = { ...(await exportJWK(publicKey)), alg: "RS256", use: "sig" };
  const kid = await calculateJwkThumbprint(jwk);
  const codes = new Map<string, { person: Person; nonce: string; challenge: string; back: string }>();
  const state = { next: { sub: "nobody" } as Person };
  const app = express();
  app.use(express.urlencoded());
  const server = app.listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  const issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  app.get("/.well-known/openid-configuration", (_, response) => {
    response.json({
      issuer,
      authorization_endpoint: `${issuer}/authorize`,
      token_endpoint: `${issuer}/token`,
      jwks_uri: `${issuer}/keys`,
      response_types_supported: ["code"],
      subject_types_supported: ["public"],
      id_token_signing_alg_values_supported: ["RS256"],
      code_challenge_methods_supported: ["S256"],
    });
  });
  app.get("/keys", (_, response) => void response.json({ keys: [{ ...jwk, kid }] }));
  app.get("/authorize", (request, response) => {
    const asked = request.query as Record<string, string>;
    const code = `code-${codes.size}`;
    codes.set(code, {
      person: state.next,
      nonce: asked.nonce ?? "",
      challenge: asked.code_challenge ?? "",
      back: asked.redirect_uri ?? "",
    });
    const back = new URL(asked.redirect_uri ?? "");
    back.searchParams.set("code", code);
    back.searchParams.set("state", asked.state ?? "");
    response.redirect(back.href);
  });
  app.post("/token", (request, response) => {
    const sent = request.body as Record<string, string>;
    const [, basic = ""] = (request.headers.authorization ?? "").split(" ");
    const [user, password] =
      basic === "" ? [sent.client_id, sent.client_secret] : Buffer.from(basic, "base64").toString().split(":");
    const given = codes.get(sent.code ?? "");
    codes.delete(sent.code ?? "");
    const challenge = createHash("sha256")
      .update(sent.code_verifier ?? "")
      .digest("base64url");
    if (
      !given ||
      user !== client ||
      password !== secret ||
      challenge !== given.challenge ||
      sent.redirect_uri !== given.back
    )
      return void response.status(400).json({ error: "invalid_grant" });
    void new SignJWT({ ...given.person, nonce: given.nonce })
      .setProtectedHeader({ alg: "RS256", kid })
      .setIssuer(issuer)
      .setAudience(client)
      .setIssuedAt()
      .setExpirationTime("5m")
      .sign(privateKey)
      .then((id_token) => response.json({ access_token: "unused", token_type: "Bearer", expires_in: 300, id_token }));
  });
  return {
    issuer,
    /** The next who comes is this person. */
    is: (person: Person) => void (state.next = person),
    stop: () => new Promise((resolve) => server.close(resolve)),
  };
}
