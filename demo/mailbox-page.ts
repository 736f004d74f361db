import escape from "escape-html";
import type { Arrived, Behavior } from "./mailbox.ts";

/** What the switches are set to. */
export interface Switches {
  everybody: Behavior;
  behaviorOf: ReadonlyMap<string, Behavior>;
}

const says: Record<Behavior, [name: string, what: string]> = {
  take: ["Takes mail", "Every message arrives."],
  refuse: [
    "Refuses the address",
    "550: there is no such mailbox. The message is over, and the address is marked.",
  ],
  defer: ["Puts mail off", "451: try again later. It is tried again after minutes, then hours."],
  slow: ["Is slow", "Each message takes five seconds."],
  drop: [
    "Dies after the text",
    "The connection ends before the answer: nobody knows whether the message arrived.",
  ],
};

const withLinks = (text: string) =>
  escape(text).replace(
    /https?:\/\/[^\s<]+/g,
    (url) => `<a href="${url}" target="_blank" rel="noreferrer">${url}</a>`,
  );

const page = (title: string, body: string, refresh = "") => `<!doctype html>
<html lang="en"><head><meta charset="utf-8">${refresh}<title>${title}</title>
<meta name="viewport" content="width=device-width">
<style>
  body { max-width: 52rem; margin: 2rem auto; padding: 0 1rem; font: 1rem/1.5 Georgia, serif; color: #1f2a44; background: #fbfaf6 }
  h1 { font-size: 1.6rem; margin: 0 0 .3rem } h2 { font-size: 1.15rem; margin: 0 }
  nav { border-bottom: 1px solid #d8d3c5; padding-bottom: .6rem; margin-bottom: 1rem }
  a { color: #1f5b3f } article { border-left: 2px solid #a4442f; margin: 0 0 1.2rem; padding: .1rem 0 .1rem 1rem }
  p { margin: .2rem 0 } .soft { color: #55605f; font-size: .9rem }
  pre { white-space: pre-wrap; overflow-wrap: anywhere; font: inherit; margin: .5rem 0 }
  iframe { width: 100%; height: 20rem; border: 1px solid #d8d3c5; background: #fff }
  summary { cursor: pointer; padding: .3rem 0 } label { display: block; padding: .3rem 0 }
  input[type=email], select, button { font: inherit; padding: .35rem .6rem; border: 1px solid #8a8f99; border-radius: .4rem; background: #fff; color: inherit }
  button { background: #1f5b3f; color: #fff; border-color: #1f5b3f }
</style></head><body>${body}</body></html>`;

const nav = (here: "mail" | "switches", { everybody, behaviorOf }: Switches) => {
  const special = [...behaviorOf].filter(([, behavior]) => behavior !== "take");
  const now = [
    says[everybody][0],
    ...special.map(([address, behavior]) => `${escape(address)}: ${says[behavior][0].toLowerCase()}`),
  ].join(" · ");
  return `<h1>Demo mailbox</h1><nav>${
    here === "mail" ? "<b>Mail</b>" : '<a href="/">Mail</a>'
  } · ${here === "switches" ? "<b>Switches</b>" : '<a href="/switches">Switches</a>'}
<p class="soft">The mail server of the demo. Now: ${now}.</p></nav>`;
};

const size = (bytes: number) => (bytes < 1024 ? `${bytes} bytes` : `${Math.round(bytes / 1024)} KB`);

const article = ({ id, at, to, from, subject, text, html, attachments }: Arrived) => `<article>
<h2 dir="auto">${escape(subject)}</h2>
<p class="soft">to ${escape(to)} · from ${escape(from)} · ${at.toISOString().slice(0, 16).replace("T", " ")} UTC</p>
<pre dir="auto">${withLinks(text)}</pre>
${
  attachments.length > 0
    ? `<p class="soft">Attached: ${attachments.map(({ name, type, bytes }) => `${escape(name)} (${escape(type)}, ${size(bytes)})`).join(", ")}</p>`
    : ""
}
${html === null ? "" : `<details><summary>As a mail program shows it</summary><iframe title="As a mail program shows it" sandbox src="/html/${id}" loading="lazy"></iframe></details>`}
</article>`;

/** The page of the mailbox: what arrived, the newest first. */
export const mailboxPage = (messages: readonly Arrived[], set: Switches): string =>
  page(
    "Demo mailbox",
    `${nav("mail", set)}
<p class="soft">Every message of the demo arrives here and goes nowhere else. The page looks again every ten seconds.</p>
${messages.length === 0 ? "<p>Nothing has arrived yet. Invite a colleague under School, Accounts, or send a test message under School, Mail.</p>" : ""}
${messages.map(article).join("\n")}`,
    '<meta http-equiv="refresh" content="10">',
  );

const all = Object.entries(says) as [Behavior, (typeof says)[Behavior]][];

/** The page with the switches: what the mail server does with what comes. */
export const switchesPage = (set: Switches): string =>
  page(
    "Demo mailbox: switches",
    `${nav("switches", set)}
<form method="post"><h2>For everybody</h2>
${all.map(([behavior, [name, what]]) => `<label><input type="radio" name="do" value="${behavior}"${behavior === set.everybody ? " checked" : ""}> <b>${name}.</b> ${what}</label>`).join("\n")}
<p><button>Set</button></p><p class="soft">“Takes mail” for everybody ends what is set for single addresses too.</p></form>
<form method="post"><h2>For one address</h2>
<label>Address <input type="email" name="address" required></label>
<label>What happens <select name="do">${all.map(([behavior, [name]]) => `<option value="${behavior}">${name}</option>`).join("")}</select></label>
<p><button>Set</button></p></form>`,
  );
