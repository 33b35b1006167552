import type { Figure } from "../../api/types";
import { PickDialog } from "../../frame/PickDialog";
import { addFigure, freshId } from "../edits";
import type { SortieWork } from "../useSortie";

interface Props {
  figures: Figure[];
  work: SortieWork;
  after: string | null;
  onClose: () => void;
  onAdded: (id: string) => void;
}

/** Add by typing a few letters. */
export function AddFigure({ figures, work, after, onClose, onAdded }: Props) {
  const add = (figure: Figure) => {
    const id = freshId(
      work.draft.plan.figures.map((f) => f.id),
      "f",
    );
    work.change(addFigure(figure, after, id));
    onAdded(id);
  };
  return (
    <PickDialog
      title="Add a figure"
      label="Figure"
      options={figures}
      group={(f) => f.family}
      name={(f) => f.name}
      keyOf={(f) => f.key}
      none="No figure with these letters."
      onPick={add}
      onClose={onClose}
    />
  );
}
