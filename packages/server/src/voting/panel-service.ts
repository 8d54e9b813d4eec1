import { type Panel, type PanelChange, PanelInput } from "@tourney/core/contract";
import { TourneyError } from "@tourney/core/errors";
import type * as z from "zod";
import type { Database, Transaction } from "../db/connection.js";
import type { EntryService } from "../entries/service.js";
import type { SuiteService } from "../suites/service.js";
import { createToken, hashToken } from "../tokens.js";
import type { AuditEntry, AuditRepository } from "./audit-repository.js";
import type { TellOfBallots } from "./ballot-notice.js";
import type { PanelRow } from "./panel-queries.sql.js";
import type { PanelRepository } from "./panel-repository.js";

interface PanelDeps {
  db: Database;
  panels: PanelRepository;
  audit: AuditRepository;
  tellOfBallots: TellOfBallots;
  suites: SuiteService;
  entries: Pick<EntryService, "getDetail">;
  appOrigin: string;
}

/** Where a panel's voters begin; with a voter's own token, where that voter goes on. The token stays out of requests and logs. */
export const invitationUrl = (appOrigin: string, panelToken: string, voterToken?: string): string =>
  `${appOrigin}/vote/${panelToken}${voterToken === undefined ? "" : `#${voterToken}`}`;

const noSuch = (what: "panel" | "voter") =>
  new TourneyError("NOT_FOUND", {
    message: `There is no such ${what}.`,
    reason: "The address names one that is not there.",
    remedy: "Open Voting and choose it from there.",
  });

/** What the lead does with panels and voters. Every change leaves a line in the audit trail. */
export function createPanelService({ db, panels, audit, tellOfBallots, suites, entries, appOrigin }: PanelDeps) {
  const toPanel = ({ token, voters, ...row }: PanelRow): Panel => ({
    ...row,
    url: invitationUrl(appOrigin, token),
    voters: voters.map(({ personalToken, ...voter }) => ({
      ...voter,
      url: personalToken === null ? null : invitationUrl(appOrigin, token, personalToken),
    })),
  });

  /** Makes a change and its line in the trail together. The change resolves with the panel's id, or null for nothing found. */
  async function change(
    what: "panel" | "voter",
    entry: Omit<AuditEntry, "actor">,
    make: (transaction: Transaction) => Promise<string | null>,
  ): Promise<Panel> {
    const panelId = await db.transact(async (transaction) => {
      const id = await make(transaction);
      if (id === null) throw noSuch(what);
      await audit.add({ actor: "lead", panelId: id, ...entry }, transaction);
      return id;
    });
    const panel = toPanel((await panels.find(panelId))!);
    tellOfBallots(panel.editionId);
    return panel;
  }

  async function leaveEntryOut(entryId: string, why: string | null) {
    await entries.getDetail(entryId);
    await db.transact(async (transaction) => {
      await panels.setEntry(entryId, why, transaction);
      const action = why === null ? "shows an entry to voters again" : "shows an entry to no voter";
      await audit.add({ actor: "lead", action, detail: { entryId, ...(why === null ? {} : { why }) } }, transaction);
    });
    return { leftOut: why };
  }

  return {
    list: async (editionId: string) => (await panels.list(editionId)).map(toPanel),
    listAudit: (editionId: string) => audit.list(editionId),
    /** Makes a panel. @throws TourneyError NOT_FOUND when the edition is not there. */
    async add(given: z.input<typeof PanelInput>, sample = false): Promise<Panel> {
      const input = PanelInput.parse(given);
      await suites.getEdition(input.editionId);
      const added = await panels.add(input, createToken(), sample);
      await audit.add({ actor: sample ? "tourney" : "lead", action: "made a panel", panelId: added.id });
      return toPanel(added);
    },
    change: (panelId: string, input: PanelChange) =>
      change("panel", { action: "changed a panel", detail: { ...input } }, async (transaction) =>
        (await panels.change(panelId, input, transaction)) ? panelId : null,
      ),
    setLinkOpen: (panelId: string, open: boolean) =>
      change(
        "panel",
        { action: open ? "opened the open invitation" : "closed the open invitation" },
        async (transaction) => ((await panels.setLinkOpen(panelId, open, transaction)) ? panelId : null),
      ),
    invite: (panelId: string, names: readonly string[]) =>
      change("panel", { action: "invited voters", detail: { count: names.length } }, async (transaction) => {
        if ((await panels.find(panelId)) === null) return null;
        for (const name of names) {
          const token = createToken();
          await panels.addInvited(panelId, { name, token, tokenHash: hashToken(token) }, transaction);
        }
        return panelId;
      }),
    setRevoked: (voterId: string, revoked: boolean) =>
      change(
        "voter",
        { action: revoked ? "ended a voter's access" : "gave a voter access again", voterId },
        (transaction) => panels.setVoter(voterId, { revoked }, transaction),
      ),
    /** @param why null to let the ballots count again. */
    leaveVoterOut: (voterId: string, why: string | null) =>
      change(
        "voter",
        why === null
          ? { action: "let a voter's ballots count again", voterId }
          : { action: "left a voter out of the ratings", voterId, detail: { why } },
        (transaction) => panels.setVoter(voterId, { leftOut: why }, transaction),
      ),
    leaveEntryOut,
  };
}
export type PanelService = ReturnType<typeof createPanelService>;
