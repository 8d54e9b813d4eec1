import { API, type Course, type SessionState } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useGetSessionQuery, useSignInMutation, useGetCourseQuery } = tourneyApi.injectEndpoints({
  endpoints: (build) => ({
    getSession: build.query<SessionState, void>({
      query: () => toRequest(API.getSession),
      responseSchema: responseOf(API.getSession),
      providesTags: ["Session"],
    }),
    signIn: build.mutation<SessionState, string>({
      query: (token) => toRequest(API.signIn, { body: { token } }),
      invalidatesTags: ["Session", "Course"],
    }),
    signOut: build.mutation<SessionState, void>({
      query: () => toRequest(API.signOut),
      invalidatesTags: ["Session"],
    }),
    getCourse: build.query<Course, string | undefined>({
      query: (edition) => toRequest(API.getCourse, { query: { edition } }),
      responseSchema: responseOf(API.getCourse),
      providesTags: ["Course"],
    }),
  }),
});
