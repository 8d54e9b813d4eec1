import { useState } from "react";
import { Button } from "./controls.js";

const readPermission = () => (typeof Notification === "undefined" ? null : Notification.permission);

/** Asks the browser for leave to tell of an end outside its window; nothing where it has been asked already. */
export function AllowNotices() {
  const [permission, setPermission] = useState(readPermission);
  if (permission !== "default") return null;
  return (
    <Button onClick={() => void Notification.requestPermission().then(setPermission)}>Tell me when it ends</Button>
  );
}
