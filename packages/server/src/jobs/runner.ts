import { Logger as QueueLogger } from "graphile-worker";
import type { Logger } from "pino";

/** The queue's own messages in our log. */
export function queueLogger(log: Logger): QueueLogger {
  return new QueueLogger((scope) => (level, message) => {
    log[(level as string) === "warning" ? "warn" : (level as "error" | "info" | "debug")](
      { scope: scope.taskIdentifier ?? scope.label },
      message,
    );
  });
}
