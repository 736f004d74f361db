import { randomBytes } from "node:crypto";
import { createServer } from "node:http";
import type { AddressInfo } from "node:net";
import Provider from "oidc-provider";

/** A school's identity provider for the demo and the tests: whoever types an e-mail is who has it. */
export interface StandInProvider {
  issuer: string;
  clientId: string;
  secret: string;
  stop: () => Promise<void>;
}

/**
 * Starts the stand-in on a free port of this machine. It signs in by the pages of its library, which ask for an e-mail and any password.
 *
 * @param origin the site that may come: `http://localhost:4717`
 */
export async function openProvider(origin: string, { port = 0 } = {}): Promise<StandInProvider> {
  let answer: (...args: Parameters<ReturnType<Provider["callback"]>>) => unknown = () => undefined;
  const server = createServer((request, response) => void answer(request, response));
  await new Promise<void>((resolve) => server.listen(port, "127.0.0.1", resolve));
  const issuer = `http://localhost:${(server.address() as AddressInfo).port}`;
  const [clientId, secret] = ["gentle-margin", randomBytes(24).toString("base64url")];
  const provider = new Provider(issuer, {
    clients: [
      {
        ...{ client_id: clientId, client_secret: secret, redirect_uris: [`${origin}/sign-in/provider`] },
        post_logout_redirect_uris: [`${origin}/sign-in`],
      },
    ],
    claims: { openid: ["sub"], email: ["email", "email_verified"] },
    conformIdTokenClaims: false,
    cookies: { keys: [randomBytes(24).toString("base64url")] },
    pkce: { required: () => true },
    features: { devInteractions: { enabled: true } },
    findAccount: (_: unknown, id: string) => ({
      accountId: id,
      claims: () => ({ sub: id, email: id.toLowerCase(), email_verified: !id.startsWith("unsure") }),
    }),
  });
  answer = provider.callback();
  return {
    ...{ issuer, clientId, secret },
    stop: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
