/** The last save of each exercise that has not ended yet. */
const underWay = new Map<string, Promise<void>>();

/** Lets saves of an exercise run one after another, also when its page is left and opened again meanwhile. */
export function saveInTurn(exercise: string, work: () => Promise<void>): Promise<void> {
  const turn = (underWay.get(exercise) ?? Promise.resolve()).then(work);
  const ended = turn.catch(() => {});
  underWay.set(exercise, ended);
  void ended.then(() => {
    if (underWay.get(exercise) === ended) underWay.delete(exercise);
  });
  return turn;
}

/** Waits until what is being saved of an exercise has been: what is read before would be old. */
export async function savesEnded(exercise: string): Promise<void> {
  await underWay.get(exercise);
}
