/** What each standing is called; apart from its sentences, since a list of goals needs no more. */
export const standingNamesEn = {
  met: "Met",
  reached: "Criterion reached",
  lost: "No longer met",
  "new-phase": "New phase",
  "too-few": "Too few points",
  "past-due": "Due date passed",
  ahead: "Ahead of the line",
  behind: "Behind the line",
  on: "On the line",
  "no-line": "No aim line",
};
