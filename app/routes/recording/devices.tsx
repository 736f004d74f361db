import * as z from "zod/mini";
import { data, Form, redirect, useSearchParams } from "react-router";
import { hashPassword } from "#server/auth/password.ts";
import { endHandover, listOpenHandovers, pinSetAt, setPin } from "#server/db/handovers.ts";
import { isEasyPin, pinKeyOf } from "#server/auth/pin.ts";
import { authorize } from "#server/access/authorize.ts";
import { readTabletSettings } from "#server/db/device-lock.ts";
import { forgetDevice, listDevices } from "#server/db/devices.ts";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { plural } from "#core/words/numbers.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { id, readForm } from "#app/ui/form-data.ts";
import { DeviceList } from "#app/ui/device-list.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/devices";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "device.keep", null, async (scope) => ({
    devices: await listDevices(scope),
    pinSetAt: await pinSetAt(scope),
    ...(await readTabletSettings(scope)),
    handovers: await listOpenHandovers(scope),
  }));
}

const forms = z.discriminatedUnion("intent", [
  z.object({ intent: z.literal("forget"), deviceId: id }),
  z.object({ intent: z.literal("end"), handoverId: id }),
  z.object({ intent: z.literal("give up the PIN") }),
  z.object({
    intent: z.literal("set the PIN"),
    pin: z.string().check(
      z.trim(),
      z.regex(/^\d{4,8}$/, "A PIN has 4 to 8 digits."),
      z.refine((pin) => !isEasyPin(pin), "This PIN is too easy to guess. Choose another."),
    ),
  }),
]);

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const read = readForm(form, forms);
  // Made outside of the transaction: both take their time.
  const pin =
    read.ok && read.values.intent === "set the PIN"
      ? { hash: await hashPassword(read.values.pin), lock: await pinKeyOf(read.values.pin) }
      : null;
  return authorize(request, context, "device.keep", null, async (scope) => {
    if (!read.ok) return data({ problems: read.problems }, { status: 422 });
    if (read.values.intent === "forget") await forgetDevice(scope, read.values.deviceId);
    else if (read.values.intent === "end") await endHandover(scope, read.values.handoverId);
    else await setPin(scope, pin);
    return redirect(`/devices${pin === null ? "" : "?pin=set"}`);
  });
}

function Pin({
  set,
  minutes,
  justSet,
  problem,
}: {
  set: boolean;
  minutes: number | null;
  justSet: boolean;
  problem: string | undefined;
}) {
  return (
    <section aria-labelledby="my-pin" className="mt-8 max-w-3xl">
      <h2 id="my-pin" className="font-serif text-lg font-semibold">
        My PIN on shared tablets
      </h2>
      <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
        The PIN lets you take over a colleague’s open sitting: your marks then carry your name.{" "}
        {minutes === null
          ? "It opens nothing else and does not sign you in."
          : `On your own devices it opens the recording screens again after ${minutes} ${plural(minutes, "minute")} without use. It does not sign you in.`}
      </p>
      {justSet ? (
        <p role="status" className="mt-2 w-fit rounded-lg bg-arrival px-4 py-2">
          Your PIN is set. Tablets know it once they have been online again.
        </p>
      ) : null}
      <Form method="post" className="mt-3 flex flex-wrap items-end gap-3" noValidate>
        <div className="w-56">
          <Field
            label={set ? "A new PIN" : "PIN"}
            name="pin"
            type="password"
            inputMode="numeric"
            autoComplete="off"
            maxLength={8}
            problem={problem}
            hint="4 to 8 digits"
          />
        </div>
        <button className="btn btn-primary mb-6" name="intent" value="set the PIN">
          {set ? "Change the PIN" : "Set the PIN"}
        </button>
        {set ? (
          <button className="btn btn-plain mb-6" name="intent" value="give up the PIN">
            Give it up
          </button>
        ) : null}
      </Form>
    </section>
  );
}

/** The devices of colleagues on which marks carry this person's name now. */
function HandedOver({ handovers }: Pick<Route.ComponentProps["loaderData"], "handovers">) {
  if (handovers.length === 0) return null;
  return (
    <section aria-labelledby="in-my-name" className="mt-8 max-w-3xl">
      <h2 id="in-my-name" className="font-serif text-lg font-semibold">
        Devices that record in my name now
      </h2>
      <ul className="mt-1">
        {handovers.map(({ handoverId, from, on, time }) => (
          <li key={handoverId} className="flex flex-wrap items-center gap-3 border-b border-base-300 py-2">
            <span className="min-w-0 flex-1">
              <b>{from}’s device</b>{" "}
              <span className="text-fine text-soft">
                since {dateWithYear(on)}, {timeOfDay(time)}
              </span>
            </span>
            <Form method="post">
              <input type="hidden" name="handoverId" value={handoverId} />
              <button
                className="btn btn-plain"
                name="intent"
                value="end"
                aria-label={`End it on ${from}’s device`}
              >
                End it
              </button>
            </Form>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-fine text-soft">
        What was marked before it ends stays yours. It ends by itself after a school day.
      </p>
    </section>
  );
}

/** The devices on which this person records without a network, each of which can be told off from here. */
export default function Devices({
  loaderData: { devices, handovers, offlineDays, pinMinutes, pinSetAt: setAt },
  actionData,
}: Route.ComponentProps) {
  const [search] = useSearchParams();
  const { problems } = useForm(actionData);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-3 border-b border-base-300 pb-3">
        <PageTitle title="My devices" />
        <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
          On these devices you can record without a network. What they keep is sealed with a key that only
          your sign-in brings. Forget a device that is lost or given away: from its next connection on, and
          after {offlineDays} {plural(offlineDays, "day")} at the latest, nothing on it can be read, unsent
          entries included.
        </p>
      </header>
      <FormProblem>
        {problems["deviceId"] ? "This device is not in the list any more." : problems["intent"]}
      </FormProblem>
      {devices.length === 0 ? (
        <p className="py-3 font-serif text-soft">
          None yet. A device is listed here once you have signed in on it with scripts switched on.
        </p>
      ) : (
        <DeviceList devices={devices} />
      )}
      <HandedOver handovers={handovers} />
      <Pin
        key={setAt}
        set={setAt !== null}
        minutes={pinMinutes}
        justSet={search.has("pin")}
        problem={problems["pin"]}
      />
    </main>
  );
}
