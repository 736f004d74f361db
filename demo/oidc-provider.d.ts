/** What of the library the stand-in uses; it ships no types. */
declare module "oidc-provider" {
  import type { RequestListener } from "node:http";
  export default class Provider {
    constructor(issuer: string, configuration: object);
    callback(): RequestListener;
  }
}
