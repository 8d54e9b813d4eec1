import { TourneyError } from "@tourney/core/errors";

/** What a voter is told when something cannot be done. */
export const BOOTH_PROBLEMS = {
  noSuchPanel: () =>
    new TourneyError("NOT_FOUND", {
      message: "This invitation does not work.",
      reason: "The link may have lost a part on its way to you.",
      remedy: "Ask whoever invited you for the whole link.",
    }),
  unknownVoter: () =>
    new TourneyError("NOT_SIGNED_IN", {
      message: "This browser is not known to the panel yet.",
      reason: "Voting begins on the invitation's first page.",
      remedy: "Open the invitation link again and begin there.",
    }),
  noNewVoters: () =>
    new TourneyError("NOT_ALLOWED", {
      message: "This invitation takes no new voters.",
      reason: "Whoever made it has closed it.",
      remedy: "Ask for a link of your own.",
    }),
  tooManyFromOnePlace: (most: number) =>
    new TourneyError("RATE_LIMITED", {
      message: `${most} people have joined from where you are.`,
      reason: "No more can join from one network by this link, so that nobody votes under many names.",
      remedy: "Ask whoever invited you for a link of your own: those always work.",
    }),
  passedOverTooOften: (passedOver: number) =>
    new TourneyError("RATE_LIMITED", {
      message: `You have passed over ${passedOver} bouts.`,
      reason: "Whoever passes over much more than they answer chooses what is compared.",
      remedy: "Answer some first; `no difference` is an answer too.",
    }),
  noSuchLink: () =>
    new TourneyError("NOT_FOUND", {
      message: "This personal link does not work.",
      reason: "It belongs to no voter of the panel; it may have lost a part on its way to you.",
      remedy: "Ask whoever invited you for the whole link.",
    }),
  revoked: () =>
    new TourneyError("NOT_ALLOWED", {
      message: "This invitation has ended.",
      reason: "Whoever invited you has ended it. What you voted so far is kept.",
      remedy: "Ask them for a new one if you think that is a mistake.",
    }),
  notYours: () =>
    new TourneyError("NOT_FOUND", {
      message: "This bout is not one of yours.",
      reason: "A bout can be answered only in the browser that it was shown in.",
      remedy: "Reload the page to get your next bout.",
    }),
  closed: () =>
    new TourneyError("CONFLICT", {
      message: "The voting is closed.",
      reason: "Its closing time has passed. Your earlier ballots count.",
      remedy: "There is nothing left to do; you can close this page.",
    }),
  answeredAlready: () =>
    new TourneyError("CONFLICT", {
      message: "This bout has been answered already.",
      reason: "Every bout counts once.",
      remedy: "Take the ballot back first if you want to change it.",
    }),
  nothingToTakeBack: (reason: string, remedy: string) =>
    new TourneyError("CONFLICT", { message: "There is no ballot to take back.", reason, remedy }),
  tooManyAtOnce: () =>
    new TourneyError("CONFLICT", {
      message: "Your next bout could not be chosen.",
      reason: "Other requests of yours came in between again and again.",
      remedy: "Close the booth in other windows, and try again.",
    }),
};
