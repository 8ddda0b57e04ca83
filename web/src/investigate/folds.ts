import type { Histogram } from "../api/types";

/** What of a histogram tells where its steps lie in time. */
type Steps = Pick<Histogram, "start_us" | "step_us" | "folds" | "fold_steps">;

/** The moment at which a step, or a part of one, starts; steps within a fold have all of its time between them. */
export function timeOfStep(steps: Steps, step: number): number {
	let [first, us] = [0, steps.start_us];
	for (const fold of steps.folds) {
		if (step < fold.step) break;
		const within = step - fold.step;
		if (within < steps.fold_steps) return fold.from_us + (within / steps.fold_steps) * (fold.to_us - fold.from_us);
		[first, us] = [fold.step + steps.fold_steps, fold.to_us];
	}
	return us + (step - first) * steps.step_us;
}

/** The step that a moment lies in, and how far in it. */
export function stepOfTime(steps: Steps, us: number): number {
	let [first, start] = [0, steps.start_us];
	for (const fold of steps.folds) {
		if (us < fold.from_us) break;
		if (us < fold.to_us) return fold.step + ((us - fold.from_us) / (fold.to_us - fold.from_us)) * steps.fold_steps;
		[first, start] = [fold.step + steps.fold_steps, fold.to_us];
	}
	return first + (us - start) / steps.step_us;
}

/** Whether a step is part of a fold. */
export function inFold(steps: Steps, step: number): boolean {
	return steps.folds.some((fold) => step >= fold.step && step < fold.step + steps.fold_steps);
}
