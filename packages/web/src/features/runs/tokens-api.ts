import { API, type ApiToken, type ApiTokenInput } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

/** Tokens by which scripts call the API. */
export const { useListTokensQuery, useAddTokenMutation, useRevokeTokenMutation } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    listTokens: build.query<ApiToken[], void>({
      query: () => toRequest(API.listTokens),
      responseSchema: responseOf(API.listTokens),
      providesTags: ["Token"],
    }),
    addToken: build.mutation<{ token: string; made: ApiToken }, ApiTokenInput>({
      query: (body) => toRequest(API.addToken, { body }),
      responseSchema: responseOf(API.addToken),
      invalidatesTags: ["Token"],
    }),
    revokeToken: build.mutation<ApiToken, string>({
      query: (tokenId) => toRequest(API.revokeToken, { params: { tokenId } }),
      responseSchema: responseOf(API.revokeToken),
      invalidatesTags: ["Token"],
    }),
  }),
});
