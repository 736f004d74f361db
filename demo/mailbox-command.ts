import { openMailbox } from "./mailbox.ts";

/** The demo's mailbox as a process of its own: says where it is in its first line, and ends with the process that started it. */
const { smtpUrl, url } = await openMailbox();
console.log(JSON.stringify({ smtpUrl, url }));
process.on("disconnect", () => process.exit(0));
