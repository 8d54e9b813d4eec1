/** The four screens on which a lead spends the day, in the order of the work, each with what to try there. */
export const FIRST_STEPS = [
  {
    place: "Wall",
    path: "/wall",
    text: "Each row is a prompt, each column a model. Move the pointer across a cell to scrub its recording; press Enter to open it.",
  },
  {
    place: "Entry",
    path: "/wall",
    text: "The page runs live in a sandbox. Beside it are its recording, its log, what the recorder found, its code and what it cost.",
  },
  {
    place: "Booth",
    path: "/voting",
    text: "People vote blind on pairs. “Open the booth” shows what a voter sees: two pages without names, and one answer from the keyboard.",
  },
  {
    place: "Standings",
    path: "/standings",
    text: "Ratings come with intervals. Models whose intervals overlap share a bracket; the forecast says how many ballots would part them.",
  },
] as const;
