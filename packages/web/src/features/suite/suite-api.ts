import {
  API,
  type EditionSummary,
  type SuiteDifference,
  type SuiteDraft,
  type SuiteImportResult,
  type SuitePreview,
} from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

const changed = ["Edition", "Course", "Wall"] as const;

export const {
  useImportSuiteMutation,
  usePreviewSuiteMutation,
  useLazyExportEditionQuery,
  useCompareEditionsQuery,
  useDuplicateSuiteMutation,
  useArchiveSuiteMutation,
  useGetSuiteDraftQuery,
  useSaveSuiteDraftMutation,
  useDropSuiteDraftMutation,
} = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    importSuite: build.mutation<SuiteImportResult, { yaml: string; digest?: string | undefined }>({
      query: (body) => toRequest(API.importSuite, { body }),
      responseSchema: responseOf(API.importSuite),
      invalidatesTags: [...changed],
    }),
    previewSuite: build.mutation<SuitePreview, string>({
      query: (yaml) => toRequest(API.previewSuite, { body: { yaml } }),
      responseSchema: responseOf(API.previewSuite),
    }),
    exportEdition: build.query<{ yaml: string }, string>({
      query: (editionId) => toRequest(API.exportEdition, { params: { editionId } }),
      responseSchema: responseOf(API.exportEdition),
    }),
    compareEditions: build.query<SuiteDifference, { fromId: string; toId: string }>({
      query: ({ fromId, toId }) =>
        toRequest(API.compareEditions, { params: { editionId: toId }, query: { from: fromId } }),
      responseSchema: responseOf(API.compareEditions),
    }),
    duplicateSuite: build.mutation<SuiteImportResult, { editionId: string; key: string; title: string }>({
      query: ({ editionId, ...body }) => toRequest(API.duplicateSuite, { params: { editionId }, body }),
      responseSchema: responseOf(API.duplicateSuite),
      invalidatesTags: [...changed],
    }),
    archiveSuite: build.mutation<EditionSummary[], { suiteKey: string; archived: boolean }>({
      query: ({ suiteKey, archived }) => toRequest(API.archiveSuite, { params: { suiteKey }, body: { archived } }),
      invalidatesTags: [...changed],
    }),
    getSuiteDraft: build.query<SuiteDraft, string>({
      query: (suiteKey) => toRequest(API.getSuiteDraft, { params: { suiteKey } }),
      responseSchema: responseOf(API.getSuiteDraft),
      // A draft is read once when it is opened; afterwards the editor is what counts.
      keepUnusedDataFor: 0,
    }),
    saveSuiteDraft: build.mutation<SuiteDraft, { suiteKey: string; yaml: string }>({
      query: ({ suiteKey, yaml }) => toRequest(API.saveSuiteDraft, { params: { suiteKey }, body: { yaml } }),
    }),
    dropSuiteDraft: build.mutation<{ dropped: boolean }, string>({
      query: (suiteKey) => toRequest(API.dropSuiteDraft, { params: { suiteKey } }),
    }),
  }),
});
