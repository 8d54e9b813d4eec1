import { configureStore } from "@reduxjs/toolkit";
import { setupListeners } from "@reduxjs/toolkit/query";
import { tourneyApi } from "../api/tourney-api.js";

export function createStore() {
  const store = configureStore({
    reducer: { [tourneyApi.reducerPath]: tourneyApi.reducer },
    middleware: (defaults) => defaults().concat(tourneyApi.middleware),
  });
  setupListeners(store.dispatch);
  return store;
}
