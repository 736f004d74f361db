import { once } from "node:events";
import { createServer, type Server } from "node:http";
import type { AddressInfo, Server as SocketServer, Socket } from "node:net";
import { type Attachment, simpleParser } from "mailparser";
import { SMTPServer, type SMTPServerSession } from "smtp-server";
import { mailboxPage, switchesPage } from "./mailbox-page.ts";

/** A message that arrived. */
export interface Arrived {
  id: number;
  at: Date;
  to: string;
  from: string;
  subject: string;
  text: string;
  html: string | null;
  messageId: string;
  attachments: { name: string; type: string; bytes: number }[];
}

/** What the mailbox does with what comes, for the addresses it is set for. */
export const behaviors = ["take", "refuse", "defer", "slow", "drop"] as const;
export type Behavior = (typeof behaviors)[number];

/** A mail server of the demo and of tests: it sends nothing on. */
export interface Mailbox {
  /** For `SMTP_URL`. */
  smtpUrl: string;
  /** A page that shows what arrived, and has the switches. */
  url: string;
  messages: readonly Arrived[];
  /** How often each message was handed over with all of its text, by its Message-ID: what was dropped after it too. */
  handed: ReadonlyMap<string, number>;
  /** Sets what happens with mail to an address, or to everybody where none is named. */
  behave: (behavior: Behavior, address?: string) => void;
  stop: () => Promise<void>;
}

interface MailboxOptions {
  smtpPort?: number;
  webPort?: number;
  /** How long a slow answer takes. */
  slowMs?: number;
}

/** So many are kept. */
const most = 1000;

async function listening(server: Server | SocketServer, port: number): Promise<number> {
  server.listen(port, "127.0.0.1");
  await once(server, "listening");
  return (server.address() as AddressInfo).port;
}

const answers: Partial<Record<Behavior, { code: number; words: string }>> = {
  refuse: { code: 550, words: "5.1.1 No such mailbox here" },
  defer: { code: 451, words: "4.3.2 Please try again later" },
};
const failing = ({ code, words }: { code: number; words: string }) =>
  Object.assign(new Error(words), { responseCode: code });

/** Starts a mailbox on free ports of this machine. */
export async function openMailbox({
  smtpPort = 0,
  webPort = 0,
  slowMs = 5000,
}: MailboxOptions = {}): Promise<Mailbox> {
  const messages: Arrived[] = [];
  const handed = new Map<string, number>();
  const behaviorOf = new Map<string, Behavior>();
  let everybody: Behavior = "take";
  let arrivals = 0;
  const ofAddress = (address: string) => behaviorOf.get(address.toLowerCase()) ?? everybody;
  const ofSession = ({ envelope }: SMTPServerSession): Behavior =>
    envelope.rcptTo.map(({ address }) => ofAddress(address)).find((one) => one !== "take") ?? "take";
  /** By their port at the other end, which a session names too. */
  const sockets = new Map<number, Socket>();
  const smtp = new SMTPServer({
    ...{ authOptional: true, disabledCommands: ["STARTTLS"], size: 10 * 1024 * 1024 },
    onAuth: ({ username }, _, done) => done(null, { user: username ?? "" }),
    onRcptTo({ address }, _, done) {
      const answer = answers[ofAddress(address)];
      done(answer ? failing(answer) : null);
    },
    onData(stream, session, done) {
      simpleParser(stream).then((mail) => {
        const messageId = mail.messageId ?? "";
        handed.set(messageId, (handed.get(messageId) ?? 0) + 1);
        const behavior = ofSession(session);
        // As a server that dies after it has all of the text and before it says so.
        if (behavior === "drop") return void sockets.get(session.remotePort)?.destroy();
        const take = () => {
          const to = [mail.to ?? []].flat().map((one) => one.text);
          arrivals += 1;
          messages.unshift({
            ...{ id: arrivals, at: new Date(), to: to.join(", "), from: mail.from?.text ?? "", messageId },
            ...{ subject: mail.subject ?? "", text: mail.text ?? "", html: mail.html || null },
            attachments: mail.attachments.map(({ filename, contentType, size }: Attachment) => ({
              ...{ name: filename ?? "attachment", type: contentType, bytes: size },
            })),
          });
          messages.splice(most);
          done();
        };
        if (behavior === "slow") setTimeout(take, slowMs);
        else take();
      }, done);
    },
  });
  smtp.on("error", () => undefined);
  smtp.server.on("connection", (socket: Socket) => {
    const port = socket.remotePort ?? 0;
    sockets.set(port, socket);
    socket.once("close", () => sockets.delete(port));
  });
  const web = createServer((request, response) => {
    const url = new URL(request.url ?? "/", "http://localhost");
    const send = (body: string, headers: Record<string, string> = {}) =>
      response
        .writeHead(200, {
          "Content-Type": "text/html; charset=utf-8",
          // What a message carries runs nothing and fetches nothing, wherever it is shown.
          "Content-Security-Policy":
            "default-src 'none'; style-src 'unsafe-inline'; frame-src 'self'; form-action 'self'",
          ...headers,
        })
        .end(body);
    if (request.method === "POST") {
      let body = "";
      request.on("data", (chunk: Buffer) => {
        body += chunk.toString();
        if (body.length > 2000) request.destroy();
      });
      request.on("end", () => {
        const form = new URLSearchParams(body);
        behave(behaviors.find((one) => one === form.get("do")) ?? "take", form.get("address")?.trim());
        response.writeHead(303, { Location: "/switches" }).end();
      });
      return;
    }
    const shown = /^\/html\/(\d+)$/.exec(url.pathname)?.[1];
    const html = messages.find(({ id }) => String(id) === shown)?.html;
    if (shown !== undefined)
      return void send(html ?? "", {
        "Content-Security-Policy": "sandbox; default-src 'none'; style-src 'unsafe-inline'",
      });
    const set = { everybody, behaviorOf };
    send(url.pathname === "/switches" ? switchesPage(set) : mailboxPage(messages, set));
  });
  function behave(behavior: Behavior, address?: string): void {
    if (address) behaviorOf.set(address.toLowerCase(), behavior);
    else {
      everybody = behavior;
      if (behavior === "take") behaviorOf.clear();
    }
  }
  const ports = [await listening(smtp.server, smtpPort), await listening(web, webPort)];
  return {
    smtpUrl: `smtp://127.0.0.1:${ports[0]}`,
    url: `http://localhost:${ports[1]}/`,
    ...{ messages, handed, behave },
    async stop() {
      web.closeAllConnections();
      const closed = once(web, "close");
      web.close();
      await new Promise<void>((resolve) => smtp.close(() => resolve()));
      await closed;
    },
  };
}
