import { API, type Course, type Health, type SessionState } from "@tourney/core/contract";
import { responseOf, toRequest, tourneyApi } from "../../api/tourney-api.js";

export const { useGetSessionQuery, useSignInMutation, useGetCourseQuery, useGetHealthQuery } =
  tourneyApi.injectEndpoints({
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
      // Of no tag: what is asked anew when it is well again is not to ask for this.
      getHealth: build.query<Health, void>({
        query: () => toRequest(API.getHealth),
        responseSchema: responseOf(API.getHealth),
      }),
    }),
  });
