import { type DatabaseAddress, describeAddress, ensureDatabase, readDatabaseAddress } from "@tourney/store";
import type { Account } from "./account.js";
import { startCluster } from "./cluster.js";
import { type Instance, readSecrets } from "./instance.js";
import { step } from "./step.js";

/** The database that an instance works on. */
export interface OpenedDatabase {
  address: DatabaseAddress;
  /** Whether it is the instance's private cluster; any other is used and left running. */
  isOwn: boolean;
  stop: () => Promise<void>;
}

/**
 * Opens the database that is given, or that the environment names; starts the instance's private cluster when there is neither.
 *
 * @throws TourneyError DATABASE_UNAVAILABLE or SETUP_FAILED
 */
export async function openDatabase(
  instance: Instance,
  {
    given = readDatabaseAddress(process.env),
    isThrowaway = false,
    account = null,
    onChange,
  }: {
    given?: DatabaseAddress | null;
    isThrowaway?: boolean;
    account?: Account | null;
    onChange?: (isThere: boolean) => void;
  },
): Promise<OpenedDatabase> {
  if (given !== null) {
    await step(`PostgreSQL: ${describeAddress(given)}`, () => ensureDatabase(given));
    return { address: given, isOwn: false, stop: () => Promise.resolve() };
  }
  const { databasePassword } = readSecrets(instance);
  const cluster = await step("PostgreSQL", () =>
    startCluster(instance, {
      password: databasePassword,
      isThrowaway,
      account,
      ...(onChange === undefined ? {} : { onChange }),
    }),
  );
  return { address: cluster.address, isOwn: true, stop: cluster.stop };
}
