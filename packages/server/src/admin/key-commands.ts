import { withServices } from "./with-services.js";

export async function listKeys({ json = false }: { json?: boolean }): Promise<void> {
  await withServices(async ({ keyRing }) => {
    const all = await keyRing.list();
    if (json) console.log(JSON.stringify(all, null, 2));
    else if (all.length === 0) console.log("No key was sent yet.");
    else
      for (const { variable, host, boundAt } of all)
        console.log(`${variable}  goes to ${host} alone, since ${boundAt.toISOString()}`);
  });
}

/** Lets a key go to another host. */
export async function freeKey(variable: string): Promise<void> {
  await withServices(async ({ keyRing }) => {
    await keyRing.free(variable);
    console.log(`${variable} is bound to the next host that it is used with.`);
  });
}
