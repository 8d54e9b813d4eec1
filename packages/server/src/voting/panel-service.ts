import type { Panel, PanelInput } from "@tourney/core/contract";
import type { SuiteService } from "../suites/service.js";
import { createToken } from "../tokens.js";
import type { PanelRepository, PanelRow } from "./panel-repository.js";

export function createPanelService({
  panels,
  suites,
  appOrigin,
}: {
  panels: PanelRepository;
  suites: SuiteService;
  appOrigin: string;
}) {
  const toPanel = ({ token, ...row }: PanelRow): Panel => ({ ...row, url: `${appOrigin}/vote/${token}` });
  return {
    list: async (editionId: string) => (await panels.list(editionId)).map(toPanel),
    /** Makes a panel. @throws TourneyError NOT_FOUND when the edition is not there. */
    async add(input: PanelInput, sample = false): Promise<Panel> {
      await suites.getEdition(input.editionId);
      return toPanel(await panels.add(input, createToken(), sample));
    },
  };
}
export type PanelService = ReturnType<typeof createPanelService>;
