import { API, type Panel, type PanelInput } from "@tourney/core/contract";
import type * as z from "zod";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useListPanelsQuery, useAddPanelMutation } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listPanels: build.query<Panel[], string>({
      query: (editionId) => toRequest(API.listPanels, { params: { editionId } }),
      responseSchema: responseOf(API.listPanels),
      providesTags: ["Panel"],
    }),
    addPanel: build.mutation<Panel, z.input<typeof PanelInput>>({
      query: (body) => toRequest(API.addPanel, { body }),
      invalidatesTags: ["Panel", "Course"],
    }),
  }),
});
