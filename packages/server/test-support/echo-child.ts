/** Answers with what it is asked and with its own number, and does not answer at all where that is to be left out. */
process.on("message", (message: { id?: number; isLeftOut?: boolean }) => {
  if (message.id !== undefined && message.isLeftOut !== true) process.send!({ ...message, pid: process.pid });
});
