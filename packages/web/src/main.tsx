import "./lib/configure-zod.js";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App } from "./app/App.js";
import { createStore } from "./app/store.js";
import { startTheme } from "./lib/theme.js";
import "./app/styles.css";

startTheme();
createRoot(document.getElementById("root")!).render(
  <StrictMode>
    <App store={createStore()} />
  </StrictMode>,
);
