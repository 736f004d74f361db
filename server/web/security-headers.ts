import type { IncomingMessage, ServerResponse } from "node:http";
import helmet from "helmet";
import { requestFacts } from "./context.ts";

const nonceOf = () => `'nonce-${requestFacts.getStore()?.nonce ?? ""}'`;

const helmetOf = (secure: boolean) =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", nonceOf],
        styleSrc: ["'self'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", "data:"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
      },
    },
    referrerPolicy: { policy: "same-origin" },
    strictTransportSecurity: secure,
  });
const behindTls = helmetOf(true);
const plain = helmetOf(false);

/** What a page here never asks of a device. Keeping the screen on while somebody records, and full screen, are used. */
const denied = [
  ...["accelerometer", "bluetooth", "camera", "display-capture", "geolocation", "gyroscope", "hid"],
  ...["idle-detection", "magnetometer", "microphone", "midi", "payment"],
  ...["serial", "usb", "xr-spatial-tracking"],
];
const permissions = denied.map((feature) => `${feature}=()`).join(", ");

/** Sets the security headers of an answer, then goes on. */
export function withSecurityHeaders(
  request: IncomingMessage,
  response: ServerResponse,
  secure: boolean,
  next: () => void,
): void {
  response.setHeader("Permissions-Policy", permissions);
  (secure ? behindTls : plain)(request, response, next);
}
