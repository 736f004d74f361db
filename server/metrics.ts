import { Counter, Gauge, Histogram, Registry } from "prom-client";

/** What this process counts. No label holds an id, a name or anything that anybody typed. */
export const registry = new Registry<typeof Registry.OPENMETRICS_CONTENT_TYPE>();
registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
const registers = [registry];

/** Requests by the route that answered, `none` where there is none. */
export const requests = new Histogram({
  name: "gentle_margin_request_seconds",
  help: "How long requests took, by route, method and status",
  labelNames: ["route", "method", "status"] as const,
  buckets: [0.01, 0.03, 0.1, 0.3, 1, 3, 10],
  registers,
});

/** What was written, by its kind and what happened to it, as the audit names them. */
export const events = new Counter({
  name: "gentle_margin_saves",
  help: "What was written, by kind and act",
  labelNames: ["thing", "act"] as const,
  registers,
});

/** Tries to send a message, by what became of them. */
export const mailed = new Counter({
  name: "gentle_margin_mail_tries",
  help: "Tries to send a message, by outcome: sent, deferred, refused, unknown",
  labelNames: ["outcome"] as const,
  registers,
});

/** What devices were answered. `refused` has its reason. */
export const kept = new Counter({
  name: "gentle_margin_queue_answers",
  help: "What devices were answered for an item of their queue, by outcome and reason",
  labelNames: ["outcome", "reason"] as const,
  registers,
});

/** A value that is looked up when it is asked for. */
export function gauge(
  name: string,
  help: string,
  labelNames: readonly string[],
  look: () => Promise<readonly { labels: Record<string, string>; value: number }[]>,
): void {
  new Gauge({
    name: `gentle_margin_${name}`,
    help,
    labelNames: [...labelNames],
    registers,
    async collect() {
      this.reset();
      for (const { labels, value } of await look().catch(() => [])) this.set(labels, value);
    },
  });
}
