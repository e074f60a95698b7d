import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { renderToPipeableStream } from "react-dom/server";
import { ServerRouter, type AppLoadContext, type EntryContext } from "react-router";
import "./load-context";

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  context: EntryContext,
  { nonce }: AppLoadContext,
): Promise<Response> {
  return new Promise((resolve, reject) => {
    let answer = status;
    const { pipe, abort } = renderToPipeableStream(<ServerRouter context={context} url={request.url} nonce={nonce} />, {
      nonce,
      onShellReady: () => {
        const body = new PassThrough();
        headers.set("Content-Type", "text/html; charset=utf-8");
        headers.set("Cache-Control", "no-store");
        resolve(new Response(createReadableStreamFromReadable(body), { status: answer, headers }));
        pipe(body);
      },
      onShellError: reject,
      onError: (error) => {
        answer = 500;
        console.error(error);
      },
    });
    setTimeout(abort, 10_000).unref();
  });
}

/** Expected responses (not found, not signed in) are not errors; the rest goes to the log, never to the page. */
export function handleError(error: unknown, { request }: { request: Request }): void {
  if (!request.signal.aborted && !(error instanceof Response)) console.error(error);
}
