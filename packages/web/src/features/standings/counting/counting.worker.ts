import { expose } from "comlink";
import { Counter } from "./counter.js";

expose(new Counter());
