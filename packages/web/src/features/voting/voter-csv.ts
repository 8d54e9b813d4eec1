import Papa from "papaparse";
