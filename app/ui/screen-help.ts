/** What a screen is for and what is done on it, in five lines. The first screen whose address fits is meant. */
export const screens: readonly {
  at: RegExp;
  title: string;
  lines: readonly [string, string, string, string, string];
}[] = [
  {
    at: /^\/caseload/,
    title: "Caseload",
    lines: [
      "Each line is a student with the goals that are under way.",
      "A goal shows its standing, its last value and when data are due next.",
      "Students who need attention come first: behind the aim line, without data, or due today.",
      "Choose by standing, area, person or group to see fewer goals.",
      "Open a name for the student, a goal for its chart.",
    ],
  },
  {
    at: /^\/progress-reports/,
    title: "Progress reports",
    lines: [
      "Each goal has a statement for the reporting period: ready, drafted or to write.",
      "Open a goal: the draft from the numbers is beside your own words.",
      "Only what you mark ready appears in the report and in editions.",
      "“Written by” gives a goal to a related-service person of the circle.",
      "The filters show what is behind, reached, or without data.",
    ],
  },
  {
    at: /^\/today/,
    title: "Today",
    lines: [
      "These are the goals for which data are due today, student by student.",
      "Open a goal to record it, or start several students together.",
      "What was recorded today is marked as done; nothing has to be ticked.",
      "A student who is absent can be marked absent: nothing is due then.",
      "Presses of an all-day tally that came late wait here for the lead’s answer.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/circle|^\/school\/circles/,
    title: "The circle",
    lines: [
      "Only who is in a student’s circle sees the student.",
      "Type a name or a position; Enter ticks the first person found.",
      "A last day ends a part by itself: a substitute for a week.",
      "“End now” works at once, on every page and device of the person.",
      "“As … sees it” shows what one person may do, and what not.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/incidents\/several/,
    title: "Several incidents",
    lines: [
      "One row is one incident of the same day, in any order.",
      "Times can be typed as 1:20 pm, 1320 or 9.10 am.",
      "A row needs what the student did; everything else may be empty.",
      "A problem is shown beside its row; what was typed is not lost.",
      "More about an incident is added on its own page afterwards.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/incidents\/[^/]+/,
    title: "An incident",
    lines: [
      "The incident is shown at the top, as in the report.",
      "Open “Correct or remove it” to change what was recorded.",
      "Each change stays in the history with its person, time and reason.",
      "Two adults may have recorded the same incident: join the two, and it counts once.",
      "An incident that was removed can be put back.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/incidents/,
    title: "Incidents",
    lines: [
      "All incidents of the student, the latest first.",
      "“Record an incident” opens the recording screen with this student chosen.",
      "A day or a period without an incident can be noted: it counts as observed.",
      "“Choice lists” sets the words for antecedents, behaviors and consequences.",
      "“Patterns” counts when, where and with what incidents occur.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/patterns/,
    title: "Patterns",
    lines: [
      "These are the student’s incidents, counted by time, place and what surrounded them.",
      "Findings are what occurs more often than expected from the other incidents.",
      "Open “how is this computed?” for the numbers behind a finding.",
      "A finding can be added to the report, and taken out again.",
      "Choose a span or a behavior to count fewer incidents.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/choices/,
    title: "Choice lists",
    lines: [
      "These words are offered when an incident of this student is recorded.",
      "A new wording also changes earlier incidents that used the choice.",
      "Type into a line. Enter begins the next one; Alt with an arrow key moves a line, and so does its handle.",
      "A line that is taken out stays in the incidents that have it. Until you save, it can be put back.",
      "Lists can be copied from the school or from another student. One save is for all lists.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/files/,
    title: "Files",
    lines: [
      "Choose which days and which readers the report is for, then the kind of file.",
      "Say who receives it: each file is listed below with that and with who made it.",
      "What may name another student is shown first, to be corrected or left as it is.",
      "The file can be fetched for a day; an edition gives the same file whenever it is asked for.",
      "Text gives each goal to paste, in parts that fit the field of another system.",
    ],
  },
  {
    at: /^\/(?:dispatch|account\/messages)/,
    title: "Dispatch",
    lines: [
      "Each message that goes out by e-mail has a line here, with what became of it.",
      "“To look at” are those that are stuck: a refused address, one to confirm, one nobody knows of.",
      "Correct a wrong address at its message: all that waits for it is sent then.",
      "“Write to several” shows who will not get a message and why, before anything goes.",
      "What you are sent yourself you choose under Account, Messages.",
    ],
  },
  {
    at: /^\/coverage/,
    title: "Coverage",
    lines: [
      "Goals without data of the last ten school days come first, with whose they are.",
      "Give what is due on the next school day to a person: they find it under Today.",
      "Each week shows on how many days there are data, of the days the schedule asks for.",
      "A second observer is recommended on at least 20% of the days of each phase.",
      "People are in the order of their names.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/access/,
    title: "Access record",
    lines: [
      "Each line says who saw, saved, received or changed something, when and why.",
      "What left the school’s staff, and who asked from outside, comes first.",
      "Write down what was given on paper or by telephone at the end of the page.",
      "Let a parent who asks read it on their page, for 45 days.",
      "“Download” saves the lines that are chosen as a table.",
    ],
  },
  {
    at: /^\/packets/,
    title: "Packets",
    lines: [
      "Choose what is handed out, whose it is and for which readers.",
      "The list shows who is in it, and who is not ready and why.",
      "Say who receives it. It is made while you do something else.",
      "Names of other students are shown first, to be looked at.",
      "The file can be fetched for a day, while all in it are your students.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/(?:report|editions|audiences)/,
    title: "The report",
    lines: [
      "The first lines say what goes well and what needs a decision. The log of every entry is last.",
      "Choose a span to see how it was on its last day.",
      "A correction replaces the line; the history keeps what stood before.",
      "An edition is a frozen copy: it stays the same whenever it is opened.",
      "Print prints the report and nothing else.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/goals\/[^/]+\/set-up|^\/students\/[^/]+\/goals\/new/,
    title: "Set-up of a goal",
    lines: [
      "Type or paste the goal as the IEP has it.",
      "What is read from the words is filled in below: kind, criterion, dates, schedule.",
      "Change what is not right; the preview shows how it will be recorded.",
      "A goal needs its wording and its kind, everything else can follow later.",
      "A later change of the measure begins a new version; earlier entries stay as they are.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/goals\/[^/]+\/record/,
    title: "Recording one goal",
    lines: [
      "Mark each opportunity with the large buttons or the digits.",
      "The date, setting and support are below the marks.",
      "What is marked stays in this tab until it is saved.",
      "The line of the report is shown before you save.",
      "A sitting records several goals or students at once: press s.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/(?:entries|not-measured|decisions|noted|beside|plans)\//,
    title: "One line of the report",
    lines: [
      "The line is shown at the top, as in the report.",
      "Correct it below, with a reason if you like: the reason stays in the history.",
      "A line that is removed does not count and is not in the report.",
      "What was removed can be put back.",
      "The history shows who changed what, and when.",
    ],
  },
  {
    at: /^\/students\/[^/]+\/(?:order|copy|edit)|^\/students\/(?:new|several)/,
    title: "Details of a student",
    lines: [
      "Only a name is needed; everything else can follow later.",
      "An alias is used instead of the name on recording screens, which others can see.",
      "Groups decide whom you can start together.",
      "Goals can be put in order, and copied for the next year or another student.",
      "Days absent do not count as observed.",
    ],
  },
  {
    at: /^\/students\//,
    title: "A student",
    lines: [
      "The open goal shows its wording, standing, chart and entries; the other goals are listed below.",
      "Record opens a sitting with this goal.",
      "Open a point of the chart, or a line of the table, to correct an entry.",
      "Decisions are recorded below the chart and become lines of the report.",
      "The latest lines of the report are on the right, or behind “Report”.",
    ],
  },
  {
    at: /^\/past/,
    title: "Past observations",
    lines: [
      "Type what was written on paper, a row for each observation.",
      "Tab goes to the next field, and Enter to the next row.",
      "Times can be typed as 1:20 pm, 1320 or 9.10 am.",
      "The line of the report is shown under each row.",
      "All rows are saved together; a wrong one is marked and nothing is lost.",
    ],
  },
  {
    at: /^\/sheets/,
    title: "Data sheets",
    lines: [
      "A blank sheet for each goal, to print and to fill in by hand.",
      "A sheet shows the alias or initials only.",
      "Choose a student or a group.",
      "Type the sheets in later under “Past observations”.",
      "The browser’s print dialog chooses the paper.",
    ],
  },
  {
    at: /^\/compare/,
    title: "Compare",
    lines: [
      "Two sides next to each other: goals, students, spans of time or settings.",
      "The sentence above the chart says the difference and how sure it is.",
      "With too few points on one side nothing is computed, and the page says why.",
      "The address keeps the choice: it can be saved as a bookmark.",
      "Both sides need a measure of the same unit.",
    ],
  },
  {
    at: /^\/figures/,
    title: "Numbers from a file",
    lines: [
      "Any figure of the application can be computed here from a file of your own.",
      "The file stays on this device.",
      "Files downloaded from a chart can be read.",
      "Choose what to compute; the result is shown with its method.",
      "So each number of a report can be checked by anybody.",
    ],
  },
  {
    at: /^\/devices/,
    title: "My devices",
    lines: [
      "A device listed here can record without a network.",
      "What was recorded is encrypted on the device until it is sent.",
      "A device you no longer use can be signed out here.",
      "A PIN lets a colleague take over a device for a while.",
      "Nothing is deleted that was not sent yet, unless you say so.",
    ],
  },
  {
    at: /^\/school\/(?:calendar|week)/,
    title: "Calendar and timetable",
    lines: [
      "The calendar says which days have school, and where reporting periods begin and end.",
      "Days without school count neither as due nor as observed.",
      "The timetable names the periods of the week.",
      "An observation without a time is placed at its period.",
      "Changes count from now on for all charts and due dates.",
    ],
  },
  {
    at: /^\/school\/(?:groups|staff|templates|lists|incidents|ratings)/,
    title: "The school",
    lines: [
      "Groups are students who are recorded together, with the times at which they meet.",
      "Staff lists everyone of the school and says who carries a caseload.",
      "Goal templates are wordings with blanks that anybody may use.",
      "Lists hold the school’s own words for areas, settings and prompt levels.",
      "“What an incident asks” says which details are recorded for every incident.",
    ],
  },
  {
    at: /^\/school\/patterns/,
    title: "Patterns of the school",
    lines: [
      "Incidents of all students together, without names.",
      "Fewer than five students are never counted together.",
      "Findings are what several students share.",
      "Each table can be downloaded as a file.",
      "Open a student’s own patterns from the student.",
    ],
  },
  {
    at: /^\/record\?incident/,
    title: "Recording an incident",
    lines: [
      "Choose the student, then touch what the student did: that is enough to save.",
      "Before and after are optional; a second touch takes a choice back.",
      "The time is now, unless you choose another one.",
      "It is saved on this device at once and sent when there is a network.",
      "Details can be added later on the incident’s page.",
    ],
  },
  {
    at: /^\/record\?tally/,
    title: "All-day tallies",
    lines: [
      "A tally counts one behavior for the whole day.",
      "Each touch counts one; the last one can be taken back.",
      "Several devices count together for the same student.",
      "Close the tally at the end of the day: it becomes one entry.",
      "Without a network the touches wait on this device.",
    ],
  },
  {
    at: /^\/record\?sitting/,
    title: "A sitting",
    lines: [
      "Mark with the large buttons, or with the digits shown on them.",
      "The arrow keys go to the next goal or student; u takes the last mark back.",
      "Each mark is saved on this device right away, also without a network.",
      "“Absent”, “refused” and “interrupted” say what was not as planned.",
      "“Finish” shows the lines of the reports before they are saved.",
    ],
  },
  {
    at: /^\/record/,
    title: "Start a sitting",
    lines: [
      "Choose the goals of a student and start, or tick several students and start together.",
      "Goals that are due today are chosen already.",
      "Groups start with all their students; the one that meets now comes first.",
      "A sitting that was left open can be continued.",
      "Recording works without a network once this device has been used with one.",
    ],
  },
];
