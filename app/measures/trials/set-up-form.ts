import { readFieldNumber, type MeasureSetUpOf } from "../set-up-form.ts";

export const trialsSetUp: MeasureSetUpOf<"trials"> = {
  read: (values) => ({ planned: readFieldNumber(values["planned"]) }),
  write: () => ({}),
};
