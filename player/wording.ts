/** What participants read that is not part of the study itself. */
export const wording = {
  start: "Start",
  goOn: "Go on where you stopped",
  stoppedBefore: "You began this study on this computer before. Your answers up to there are kept.",
  loading: "Loading",
  startingFailed: "The study could not be loaded. Check the connection of this computer; your answers so far are safe.",
  stopped: "The study could not go on just now. Your answers so far are kept; you can go on where you stopped.",
  tryAgain: "Try again",
  sending: "Your answers are safe on this computer. They are being sent now.",
  waiting: (count: number) =>
    `Your answers are safe on this computer; ${count} still ${count === 1 ? "waits" : "wait"} to be sent. Leave this page open: it goes on trying.`,
  done: "You are done. Thank you.",
  code: "Your completion code",
  otherTab: "This study is open in another window of this browser. Go on there, or close it and load this page again.",
  noStorage:
    "This browser does not let the study keep your answers safe on this computer. Use a window that is not private, then open the link again.",
  notOpen: "This link does not lead to a study that is open. Ask the person who gave it to you.",
  pilot: "Pilot: a try-out by the team. The data are marked as such.",
} as const;
