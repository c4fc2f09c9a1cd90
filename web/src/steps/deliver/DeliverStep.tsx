import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { DELIVER } from "./keys";
import { Files } from "./Files";
import { PaperSide } from "./paper/PaperSide";
import { Rounds } from "./Rounds";
import { Setup } from "./Setup";
import { StackSide } from "./StackSide";
import { TakeBack } from "./TakeBack";

const SIDES = { stack: "Stack", setup: "Set up", paper: "Paper", files: "Files", rounds: "Rounds", back: "Take back" };

export function DeliverStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, DELIVER.sides, "stack");
  if (side === "setup") return <Setup piece={piece} tabs={tabs} />;
  if (side === "paper") return <PaperSide piece={piece} tabs={tabs} />;
  if (side === "files") return <Files piece={piece} tabs={tabs} />;
  if (side === "rounds") return <Rounds piece={piece} tabs={tabs} />;
  if (side === "back") return <TakeBack piece={piece} tabs={tabs} />;
  return <StackSide piece={piece} tabs={tabs} />;
}
