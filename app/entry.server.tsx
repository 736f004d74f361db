import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import {
  type AppLoadContext,
  type EntryContext,
  type HandleErrorFunction,
  isRouteErrorResponse,
  ServerRouter,
} from "react-router";
import { failure } from "#server/failure.ts";
import { NonceContext } from "./ui/nonce.ts";

const patience = 5000;

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  { nonce }: AppLoadContext,
): Promise<Response> {
  return new Promise((resolve, reject) => {
    let code = status;
    const whole = isbot(request.headers.get("user-agent")) || entry.isSpaMode;
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext value={nonce}>
        <ServerRouter context={entry} url={request.url} nonce={nonce} />
      </NonceContext>,
      {
        nonce,
        [whole ? "onAllReady" : "onShellReady"]() {
          const body = new PassThrough();
          headers.set("Content-Type", "text/html; charset=utf-8");
          resolve(new Response(createReadableStreamFromReadable(body), { headers, status: code }));
          pipe(body);
        },
        onShellError: reject,
        onError(error: unknown) {
          code = 500;
          failure(error);
        },
      },
    );
    setTimeout(abort, patience + 1000).unref();
  });
}

export const handleError: HandleErrorFunction = (error, { request }) => {
  // A page that is not there, or is sent something it does not take, is no failure of ours.
  const refused = isRouteErrorResponse(error) && error.status < 500;
  if (!request.signal.aborted && !refused) failure(error);
};
