import { useEffect, useId, useState } from "react";
import { useFetcher, useNavigate } from "react-router";
import { guideContents } from "#app/routes/guide/contents.ts";
import type { loader } from "#app/routes/frame/find.ts";
import { SheetDialog } from "./sheet.tsx";

interface Place {
  label: string;
  hint: string;
  to: string;
  /** What it is found by as well. */
  words?: string;
}

const actions: Place[] = [
  { label: "Start a sitting", hint: "pick students and goals", to: "/record" },
  { label: "Record an incident", hint: "pick the student", to: "/record?incident" },
  { label: "Write a jot", hint: "pick the student", to: "/record?jot" },
  { label: "Caseload", hint: "all my students", to: "/caseload" },
  { label: "Today", hint: "what is due, for whom", to: "/today" },
  { label: "Progress reports", hint: "statements of the reporting period", to: "/progress-reports" },
  {
    label: "Packets",
    hint: "pages of several students, to hand out",
    to: "/packets",
    words: "print zip class",
  },
  {
    label: "Dispatch",
    hint: "messages that go out, and what became of each",
    to: "/dispatch",
    words: "mail e-mail sent refused address",
  },
  {
    label: "Write to several families",
    hint: "one message each",
    to: "/dispatch/new",
    words: "mail e-mail guardians",
  },
  {
    label: "Which messages I want",
    hint: "at once, daily, weekly, quiet hours",
    to: "/account/messages",
    words: "mail notifications",
  },
  {
    label: "Coverage",
    hint: "who recorded what, goals without data, who takes what tomorrow",
    to: "/coverage",
    words: "due data second observer staff meeting",
  },
  { label: "Compare", hint: "two goals, students, spans or settings", to: "/compare" },
  { label: "Numbers from a file", hint: "check any figure yourself, on this device", to: "/figures" },
  { label: "Past observations", hint: "typed from paper, many at once", to: "/past" },
  { label: "Blank data sheets", hint: "to print", to: "/sheets" },
  { label: "My account", hint: "password, where I am signed in", to: "/account", words: "sign out session" },
  { label: "My devices", hint: "for recording without a network", to: "/devices" },
  { label: "Calendar", hint: "of the school", to: "/school/calendar" },
  { label: "Timetable", hint: "of the school", to: "/school/week" },
  { label: "Groups", hint: "of the school", to: "/school/groups" },
  { label: "Staff", hint: "of the school", to: "/school/staff" },
  { label: "Accounts", hint: "who can sign in, invitations", to: "/school/accounts" },
  {
    label: "Events",
    hint: "sign-ins, roles, settings, files",
    to: "/school/events",
    words: "audit log access",
  },
  { label: "Sign-in by the school’s provider", hint: "OpenID Connect", to: "/school/provider" },
  { label: "Schools", hint: "turn to another school", to: "/schools" },
  { label: "Goal templates", hint: "of the school", to: "/school/templates" },
  ...guideContents.map(({ slug, title, words }) => ({
    label: `Guide: ${title}`,
    hint: "how it is done",
    to: `/guide/${slug}`,
    words,
  })),
  {
    label: "One page to print",
    hint: "for an aide who begins",
    to: "/guide/one-page",
    words: "guide start help",
  },
];
const schoolEditing: Place[] = [
  { label: "Lists", hint: "areas, settings, ladders of the school", to: "/school/lists" },
  { label: "Jot categories", hint: "what the school writes jots about", to: "/school/jots" },
  { label: "Ratings of progress reports", hint: "of the school", to: "/school/ratings" },
  { label: "Who reads reports", hint: "team, family, file: how each reads", to: "/school/audiences" },
  { label: "What an incident asks", hint: "of the school", to: "/school/incidents" },
  {
    label: "Retention",
    hint: "for how long records are stored, who left, requests",
    to: "/school/retention",
    words: "erase delete archive hold FERPA rights",
  },
  {
    label: "The next school year",
    hint: "calendar, groups, goals and circles in one go",
    to: "/school/next-year",
    words: "roll-over summer grade leave",
  },
];
const circles: Place = { label: "Circles", hint: "who is around which student", to: "/school/circles" };
const schoolPatterns: Place = {
  label: "Patterns of the school",
  hint: "incidents, without names",
  to: "/school/patterns",
};
const newStudents: Place[] = [
  { label: "New student", hint: "onto my caseload", to: "/students/new" },
  { label: "Several students", hint: "from a list of names", to: "/students/several" },
];

function placesOf(found: Awaited<ReturnType<typeof loader>> | undefined): Place[] {
  if (!found) return actions;
  const names = new Map(found.students.map(({ studentId, name }) => [studentId, name]));
  return [
    ...actions,
    ...(found.mayEditSchool ? [...schoolEditing, circles] : []),
    ...(found.mayCount ? [schoolPatterns] : []),
    ...(found.mayAddStudents ? newStudents : []),
    ...found.students.flatMap(({ studentId, name, initials }) => [
      { label: name, hint: `${initials} goals`, to: `/students/${studentId}` },
      { label: `${name}: report`, hint: initials, to: `/students/${studentId}/report` },
      { label: `${name}: meeting`, hint: `${initials} on a wall`, to: `/students/${studentId}/meeting` },
      { label: `${name}: circle`, hint: `${initials} team people`, to: `/students/${studentId}/circle` },
      { label: `${name}: incidents`, hint: initials, to: `/students/${studentId}/incidents` },
      { label: `${name}: patterns`, hint: `${initials} incidents`, to: `/students/${studentId}/patterns` },
      { label: `${name}: write a jot`, hint: initials, to: `/record?jot=${studentId}` },
      { label: `${name}: write down an incident`, hint: initials, to: `/record?incident=${studentId}` },
      { label: `${name}: new goal`, hint: initials, to: `/students/${studentId}/goals/new` },
    ]),
    ...found.goals.flatMap(({ studentId, goalId, number, title }) => [
      {
        label: `${number} ${title}`,
        hint: names.get(studentId) ?? "",
        to: `/students/${studentId}/goals/${goalId}`,
      },
      {
        label: `Record ${number} ${title}`,
        hint: names.get(studentId) ?? "",
        to: `/students/${studentId}/goals/${goalId}/record`,
      },
    ]),
  ];
}

// Ours: the libraries that match and draw such a list weigh 3.7 to 18.8 kB (measured, gzipped), and whoever presses the keys waits for them.
const fold = (text: string) => text.normalize("NFKD").replace(/\p{M}/gu, "").toLocaleLowerCase();

function matching(places: Place[], typed: string): Place[] {
  const words = fold(typed).split(/\s+/).filter(Boolean);
  return places
    .filter((place) =>
      words.every((word) => fold(`${place.label} ${place.hint} ${place.words ?? ""}`).includes(word)),
    )
    .slice(0, 9);
}

/** One field that finds any student, goal or action by any part of its words. */
export default function Palette({ onClose }: { onClose: () => void }) {
  const fetcher = useFetcher<typeof loader>();
  const navigate = useNavigate();
  const listId = useId();
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState(0);
  const { load, state, data } = fetcher;
  useEffect(() => void load("/find"), [load]);
  const places = matching(placesOf(data), typed);
  const current = Math.min(chosen, Math.max(0, places.length - 1));

  function go(place: Place | undefined) {
    if (!place) return;
    onClose();
    void navigate(place.to);
  }
  return (
    <SheetDialog label="Find" onClose={onClose}>
      <input
        className="w-full rounded-t-xl border-b border-base-300 bg-transparent px-5 py-4 text-lg -outline-offset-2"
        placeholder="Student, goal or action"
        aria-label="Find a student, a goal or an action"
        role="combobox"
        aria-expanded="true"
        aria-controls={listId}
        aria-activedescendant={places[current] ? `${listId}-${current}` : undefined}
        autoComplete="off"
        autoFocus
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setChosen(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") setChosen((current + 1) % Math.max(1, places.length));
          else if (event.key === "ArrowUp")
            setChosen((current - 1 + places.length) % Math.max(1, places.length));
          else if (event.key === "Enter") go(places[current]);
          else return;
          event.preventDefault();
        }}
      />
      <ul id={listId} role="listbox" aria-label="Places" className="p-2">
        {places.map((place, index) => (
          <li
            key={`${place.to} ${place.label}`}
            id={`${listId}-${index}`}
            role="option"
            aria-selected={index === current}
            className={`flex min-h-11 cursor-pointer items-center justify-between gap-4 rounded-lg px-3 ${index === current ? "bg-base-200" : ""}`}
            onPointerMove={() => setChosen(index)}
            onClick={() => go(place)}
          >
            <span className="truncate">{place.label}</span>
            <span className="shrink-0 text-fine text-soft">{place.hint}</span>
          </li>
        ))}
      </ul>
      <p role="status" className="px-5 pb-4 text-fine text-soft">
        {data
          ? places.length === 0
            ? "Nothing of yours has these words. Students appear here once you are in their circle."
            : ""
          : state === "loading"
            ? "Looking …"
            : ""}
      </p>
    </SheetDialog>
  );
}
