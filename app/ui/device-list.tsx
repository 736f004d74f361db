import { Form } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";

/** The devices on which a person records without a network, each with “Forget this device”. */
export function DeviceList({
  devices,
}: {
  devices: readonly { deviceId: string; name: string; usedOn: string }[];
}) {
  return (
    <ul className="max-w-3xl">
      {devices.map(({ deviceId, name, usedOn }) => (
        <li key={deviceId} className="flex flex-wrap items-center gap-3 border-b border-base-300 py-2">
          <span className="min-w-0 flex-1">
            <b>{name || "A device"}</b>{" "}
            <span className="text-fine text-soft">last used {dateWithYear(usedOn)}</span>
          </span>
          <Form method="post" preventScrollReset>
            <input type="hidden" name="deviceId" value={deviceId} />
            <button
              className="btn btn-plain"
              name="intent"
              value="forget"
              aria-label={`Forget ${name || "this device"}`}
            >
              Forget this device
            </button>
          </Form>
        </li>
      ))}
    </ul>
  );
}
