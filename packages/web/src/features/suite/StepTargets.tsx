import type { Target, WalkthroughStep } from "@tourney/core/contract";
import { SelectField } from "../../ui/controls.js";
import { TypedField } from "./TypedField.js";
import { setButton, setTarget } from "./walkthrough-steps.js";

/** What an input is aimed at: what is pressed, touched, moved to, or dragged along. */
export function StepTargets({ step, onChange }: { step: WalkthroughStep; onChange: (step: WalkthroughStep) => void }) {
  const path = "drag" in step ? step.drag : "swipe" in step ? step.swipe : null;
  return (
    <>
      {"click" in step ? (
        <>
          <SelectField
            label="With"
            options={[
              ["", "the left button"],
              ["double", "the left button, twice"],
              ["right", "the right button"],
            ]}
            value={step.with ?? ""}
            onChange={(event) => onChange(setButton(step, event.target.value))}
          />
          <span />
          <TargetFields
            label="Where"
            target={step.click}
            onTarget={(target) => onChange(setTarget(step, "click", target))}
          />
        </>
      ) : null}
      {"tap" in step ? (
        <TargetFields label="Where" target={step.tap} onTarget={(target) => onChange(setTarget(step, "tap", target))} />
      ) : null}
      {"move" in step ? (
        <TargetFields label="To" target={step.move} onTarget={(target) => onChange(setTarget(step, "move", target))} />
      ) : null}
      {path !== null
        ? (["from", "to"] as const).map((part) => (
            <TargetFields
              key={part}
              label={part === "from" ? "From" : "To"}
              target={path[part]}
              onTarget={(target) => onChange(setTarget(step, part, target))}
            />
          ))
        : null}
    </>
  );
}

/** Where an input goes: a position, or something found by its accessible name. */
export function TargetFields({
  label,
  target,
  onTarget,
}: {
  label: string;
  target: Target;
  onTarget: (target: Target) => void;
}) {
  const position = "x" in target ? target : null;
  const named = "x" in target ? null : target;
  return (
    <>
      <SelectField
        label={label}
        options={[
          ["position", "a position"],
          ["name", "by name"],
        ]}
        value={position ? "position" : "name"}
        onChange={(event) =>
          onTarget(event.target.value === "position" ? { x: 100, y: 100 } : { role: "button", name: "Start" })
        }
      />
      {position ? (
        <TypedField
          label="x, y"
          hint="CSS px"
          value={`${position.x}, ${position.y}`}
          onText={(text) => {
            const [x, y] = text.split(/[,\s]+/).map(Number);
            if (Number.isFinite(x) && Number.isFinite(y)) onTarget({ x: x!, y: y! });
          }}
        />
      ) : null}
      {named ? (
        <>
          <TypedField
            label="Name"
            hint="or a part of it"
            value={named.name}
            onText={(text) => (text.trim() === "" ? undefined : onTarget({ ...named, name: text }))}
          />
          <TypedField
            label="Role"
            hint="may be empty"
            value={named.role ?? ""}
            onText={(text) =>
              onTarget(text.trim() === "" ? { name: named.name } : { role: text.trim(), name: named.name })
            }
          />
          <span />
        </>
      ) : null}
    </>
  );
}
