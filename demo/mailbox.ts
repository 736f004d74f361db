import { once } from "node:events";
import { createServer, type Server } from "node:http";
import type { AddressInfo, Server as SocketServer } from "node:net";
import { simpleParser } from "mailparser";
import { SMTPServer } from "smtp-server";

/** A message that arrived. */
export interface Arrived {
  at: Date;
  to: string;
  subject: string;
  text: string;
  messageId: string;
}

/** A mail server of the demo and of tests: it takes every message and sends none on. */
export interface Mailbox {
  /** For `SMTP_URL`. */
  smtpUrl: string;
  /** A page that shows what arrived. */
  url: string;
  messages: readonly Arrived[];
  stop: () => Promise<void>;
}

/** So many are kept. */
const most = 200;

const escaped = (text: string) =>
  text.replace(
    /[&<>"]/g,
    (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign] ?? sign,
  );
const withLinks = (text: string) =>
  escaped(text).replace(
    /https?:\/\/[^\s<]+/g,
    (url) => `<a href="${url}" target="_blank" rel="noreferrer">${url}</a>`,
  );

const page = (messages: readonly Arrived[]) => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" content="5"><title>Demo mailbox</title>
<meta name="viewport" content="width=device-width">
<style>
  body { max-width: 46rem; margin: 2rem auto; padding: 0 1rem; font: 1rem/1.5 Georgia, serif; color: #23302f; background: #fbfaf6 }
  h1 { font-size: 1.5rem } h2 { font-size: 1.1rem; margin: 0 } article { border-top: 1px solid #d8d3c5; padding: 1rem 0 }
  p { margin: .2rem 0; color: #55605f } pre { white-space: pre-wrap; overflow-wrap: anywhere; font: inherit; color: inherit }
</style></head><body><h1>Demo mailbox</h1>
<p>Every message of the demo arrives here and goes nowhere else. Newest first.</p>
${messages.length === 0 ? "<p>Nothing has arrived yet. Invite a colleague under School, Accounts.</p>" : ""}
${messages
  .map(
    ({ at, to, subject, text }) =>
      `<article><h2>${escaped(subject)}</h2><p>to ${escaped(to)}, ${at.toISOString().slice(0, 16).replace("T", " ")} UTC</p><pre>${withLinks(text)}</pre></article>`,
  )
  .join("\n")}
</body></html>`;

async function listening(server: Server | SocketServer): Promise<number> {
  server.listen(0, "127.0.0.1");
  await once(server, "listening");
  return (server.address() as AddressInfo).port;
}

/** Starts a mailbox on free ports of this machine. */
export async function openMailbox(): Promise<Mailbox> {
  const messages: Arrived[] = [];
  const smtp = new SMTPServer({
    ...{ authOptional: true, disabledCommands: ["STARTTLS"], size: 10 * 1024 * 1024 },
    onData(stream, _, done) {
      simpleParser(stream).then((mail) => {
        const to = [mail.to ?? []].flat().map((one) => one.text);
        messages.unshift({
          ...{ at: new Date(), to: to.join(", "), subject: mail.subject ?? "", text: mail.text ?? "" },
          messageId: mail.messageId ?? "",
        });
        messages.splice(most);
        done();
      }, done);
    },
  });
  const web = createServer((_, response) =>
    response.writeHead(200, { "Content-Type": "text/html; charset=utf-8" }).end(page(messages)),
  );
  const [smtpPort, webPort] = [await listening(smtp.server), await listening(web)];
  return {
    smtpUrl: `smtp://127.0.0.1:${smtpPort}`,
    url: `http://localhost:${webPort}/`,
    messages,
    async stop() {
      web.closeAllConnections();
      const closed = once(web, "close");
      web.close();
      await new Promise<void>((resolve) => smtp.close(() => resolve()));
      await closed;
    },
  };
}
