/** Milliseconds of this process's processor time that some work takes: other programs on the machine do not lengthen it. */
export function measureMs(work: () => void): number {
  const before = process.cpuUsage();
  work();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}
