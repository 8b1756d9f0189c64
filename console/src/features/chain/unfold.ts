import type { ChainStep } from "./model";

/** What stands between the name of a step that runs a chain and the name of a step within that chain. */
export const WITHIN = " › ";

/**
 * Puts the steps of a nested chain in the place of the step that runs it: what that step followed, the first within follow;
 * what followed it, follows the last within. Nothing changes where the nested steps are not there yet.
 */
export function unfold(steps: ChainStep[], name: string, nested: ChainStep[]): ChainStep[] {
  const outer = steps.find((step) => step.step === name);
  if (!outer || nested.length === 0) return steps;
  const inside = (step: string) => name + WITHIN + step;
  const last = endsOf(nested).map(inside);
  const closing = endsOf(nested.filter((step) => !step.last)).map((step) => ({ after: inside(step), on: "any" }));
  const within = nested.map((step): ChainStep => {
    const own = step.links.map((link) => ({ ...link, after: inside(link.after) }));
    const links = own.length > 0 ? own : step.last ? closing : outer.links;
    return { ...step, step: inside(step.step), last: outer.last, within: name, mayDecide: false, links };
  });
  return steps.flatMap((step) =>
    step.step === name
      ? within
      : [
          {
            ...step,
            links: step.links.flatMap((link) =>
              link.after === name ? last.map((after) => ({ ...link, after })) : [link],
            ),
          },
        ],
  );
}

/** The steps that no other follows; those at the very end come after all others. */
function endsOf(steps: ChainStep[]): string[] {
  const lasts = steps.filter((step) => step.last);
  const asked = lasts.length > 0 ? lasts : steps;
  const followed = new Set(asked.flatMap((step) => step.links.map((link) => link.after)));
  return asked.filter((step) => !followed.has(step.step)).map((step) => step.step);
}
