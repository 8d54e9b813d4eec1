import type { EntryDetail, StressTest } from "@tourney/core/contract";
import { toast } from "sonner";
import { Button } from "../../ui/controls.js";
import { useRecordAgainMutation } from "./entry-api.js";

/** A frame that takes longer is seen to stutter. */
const SLOW_FRAME_MS = 50;

/** For so long a page is left alone, if it is not too heavy for that. */
const SOAK_MS = 179_000;

/** What a page does with much to do and when it is left alone for minutes. Made when it is asked for, since it takes its time. */
export function LoadTab({ entry }: { entry: EntryDetail }) {
  const [recordAgain, { isLoading }] = useRecordAgainMutation();
  const stress = entry.render?.recording?.stress ?? null;
  const isQueued = entry.render?.state === "queued";
  const test = async () => {
    const result = await recordAgain({ entryId: entry.id, stress: true });
    if (result.data) toast.success("It is being recorded again, with its load turned up.");
    else toast.error("It could not be queued for recording.");
  };
  return (
    <>
      {stress === null ? (
        <p className="mt-0 text-soft">
          Not tried yet. The page&rsquo;s count, slider or “add” is driven to its end, and the page is left alone for
          three minutes of its time: what goes wrong only with much to do, or late, is found by it. It takes up to a
          minute.
        </p>
      ) : (
        <>
          <TurnedUp stress={stress} />
          <LeftAlone stress={stress} />
          <p className="mt-3 mb-3 text-soft">
            Milliseconds are processor time, and depend on the machine that recorded it.
          </p>
        </>
      )}
      <Button disabled={isLoading || isQueued || entry.entryPath === null} onClick={() => void test()}>
        {isQueued ? "Recording …" : stress === null ? "Turn its load up" : "Turn its load up again"}
      </Button>
    </>
  );
}

function TurnedUp({ stress: { control, levels, isCutShort } }: { stress: StressTest }) {
  const most = Math.max(SLOW_FRAME_MS, ...levels.map(({ frameMs }) => frameMs));
  return (
    <>
      <h2 className="mt-0 mb-1 text-[15px]">
        {control === null ? "Nothing to turn up was found" : `Turned up: ${control}`}
      </h2>
      <table className="figures w-full table-fixed border-collapse text-left">
        <thead className="text-soft">
          <tr className="border-b border-rule">
            <th className="w-[18%] py-1 pr-3 font-normal">Load</th>
            <th className="w-[37%] py-1 pr-3 font-normal">A frame takes</th>
            <th className="py-1 pr-3 text-right font-normal">Memory</th>
            <th className="w-1/4 py-1 text-right font-normal">Exceptions</th>
          </tr>
        </thead>
        <tbody>
          {levels.map(({ load, frameMs, heapMb, exceptions }) => (
            <tr key={load} className="border-b border-rule">
              <td className="py-1 pr-3">{load}</td>
              <td className="py-1 pr-3">
                <Bar share={frameMs / most} isBad={frameMs >= SLOW_FRAME_MS} label={`${frameMs.toFixed(0)} ms`} />
              </td>
              <td className="py-1 pr-3 text-right">{megabytes(heapMb)}</td>
              <td className={`py-1 text-right ${exceptions > 0 ? "text-broken" : ""}`}>{exceptions}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {isCutShort ? <p className="mt-1 mb-0 text-soft">Ended there, because it took too long to go on.</p> : null}
    </>
  );
}

function LeftAlone({ stress: { soak } }: { stress: StressTest }) {
  const last = soak?.samples.at(-1);
  if (!soak || !last) return <p className="text-soft">It did not last when it was left alone.</p>;
  const most = Math.max(...soak.samples.map(({ heapMb }) => heapMb));
  return (
    <>
      <h2 className="mt-4 mb-1 text-[15px]">Left alone for {Math.round(last.atMs / 1000)} s of its time</h2>
      <table className="figures w-full table-fixed border-collapse text-left">
        <thead className="text-soft">
          <tr className="border-b border-rule">
            <th className="w-[18%] py-1 pr-3 font-normal">After</th>
            <th className="w-[37%] py-1 pr-3 font-normal">Memory</th>
            <th className="py-1 pr-3 text-right font-normal">A frame takes</th>
            <th className="w-1/4 py-1 text-right font-normal">Exceptions</th>
          </tr>
        </thead>
        <tbody>
          {soak.samples.map(({ atMs, frameMs, heapMb, exceptions }) => (
            <tr key={atMs} className="border-b border-rule">
              <td className="py-1 pr-3">{Math.round(atMs / 1000)} s</td>
              <td className="py-1 pr-3">
                <Bar share={heapMb / most} isBad={false} label={megabytes(heapMb)} />
              </td>
              <td className="py-1 pr-3 text-right">{frameMs.toFixed(1)} ms</td>
              <td className={`py-1 text-right ${exceptions > 0 ? "text-broken" : ""}`}>{exceptions}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {last.atMs < SOAK_MS ? (
        <p className="mt-1 mb-0 text-soft">Ended there, because it took too long to go on.</p>
      ) : null}
      {soak.wrongWords.length > 0 ? <p className="mt-1 mb-0">It shows {soak.wrongWords.join(", ")} then.</p> : null}
      {soak.isEmpty ? <p className="mt-1 mb-0">Nothing is left in view then.</p> : null}
    </>
  );
}

const megabytes = (mb: number) => `${mb.toFixed(mb < 10 ? 1 : 0)} MB`;

/** A figure with a bar behind it, as long as its share of the greatest. */
function Bar({ share, isBad, label }: { share: number; isBad: boolean; label: string }) {
  return (
    <span className="flex items-center gap-2">
      <span className="h-2 flex-1 bg-sheet" aria-hidden>
        <span
          className={`block h-full ${isBad ? "bg-broken" : "bg-soft"}`}
          style={{ width: `${Math.max(1, share * 100)}%` }}
        />
      </span>
      <span className={`w-16 text-right whitespace-nowrap ${isBad ? "text-broken" : ""}`}>{label}</span>
    </span>
  );
}
