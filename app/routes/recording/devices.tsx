import * as z from "zod/mini";
import { data, Form, redirect } from "react-router";
import { enter } from "#server/access/enter.ts";
import { forgetDevice, listDevices } from "#server/db/devices.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, readForm } from "#app/ui/form-data.ts";
import type { Route } from "./+types/devices";

export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "device.keep", null, async (visit) => ({
    devices: await listDevices(visit),
  }));
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  return enter(request, context, "device.keep", null, async (visit) => {
    const read = readForm(form, z.object({ deviceId: id }));
    if (!read.ok) return data({ problem: "This device is not in the list any more." }, { status: 422 });
    await forgetDevice(visit, read.values.deviceId);
    return redirect("/devices");
  });
}

/** The devices on which this person records without a network, each of which can be told off from here. */
export default function Devices({ loaderData: { devices }, actionData }: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <title>My devices · Gentle Margin</title>
      <header className="mb-3 border-b border-base-300 pb-3">
        <h1 className="font-serif text-[1.7rem] leading-tight font-semibold">My devices</h1>
        <p className="mt-1 max-w-[44rem] text-[0.9375rem]">
          On these devices you can record without a network. What they keep is sealed with a key that only
          your sign-in brings. Forget a device that is lost or given away: its key is thrown away here, and
          what it still holds can never be read again, unsent entries included.
        </p>
      </header>
      <FormProblem>{actionData?.problem}</FormProblem>
      {devices.length === 0 ? (
        <p className="py-3 font-serif text-soft">
          None yet. A device is listed here once you have signed in on it with scripts switched on.
        </p>
      ) : (
        <ul className="max-w-3xl">
          {devices.map(({ deviceId, name, usedOn }) => (
            <li key={deviceId} className="flex flex-wrap items-center gap-3 border-b border-base-300 py-2">
              <span className="min-w-0 flex-1">
                <b>{name || "A device"}</b>{" "}
                <span className="text-fine text-soft">last used {dateWithYear(usedOn)}</span>
              </span>
              <Form method="post">
                <input type="hidden" name="deviceId" value={deviceId} />
                <button className="btn btn-plain" aria-label={`Forget ${name || "this device"}`}>
                  Forget this device
                </button>
              </Form>
            </li>
          ))}
        </ul>
      )}
    </main>
  );
}
