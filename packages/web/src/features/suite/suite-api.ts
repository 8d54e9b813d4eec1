import { API, type Edition, type SuiteImportResult } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useGetEditionQuery, useImportSuiteMutation } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getEdition: build.query<Edition, string>({
      query: (editionId) => toRequest(API.getEdition, { params: { editionId } }),
      responseSchema: responseOf(API.getEdition),
      providesTags: (_result, _error, id) => [{ type: "Edition", id }],
    }),
    importSuite: build.mutation<SuiteImportResult, string>({
      query: (yaml) => toRequest(API.importSuite, { body: { yaml } }),
      responseSchema: responseOf(API.importSuite),
      invalidatesTags: ["Edition", "Course", "Wall"],
    }),
  }),
});
