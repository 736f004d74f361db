import { Form } from "react-router";

/** Whether the family sees an entry or a jot apart from any edition, and the button to say so. */
export function Released({
  studentId,
  thing,
  thingId,
  isReleased,
}: {
  studentId: string;
  thing: "entry" | "jot";
  thingId: string;
  isReleased: boolean;
}) {
  return (
    <Form
      method="post"
      action={`/students/${studentId}/release`}
      className="no-print mt-3 flex flex-wrap items-center gap-3 text-[0.9375rem]"
    >
      <input type="hidden" name="thing" value={thing} />
      <input type="hidden" name="thingId" value={thingId} />
      <span role="status">
        {isReleased ? "Released to the family." : "The family sees this in editions only."}
      </span>
      <button className="btn btn-plain btn-sm" name="release" value={isReleased ? "no" : "yes"}>
        {isReleased ? "Take the release back" : "Release to the family"}
      </button>
    </Form>
  );
}
