import { useQuery } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Pattern, PatternDetail } from "../api/types";
import { Remedies } from "../cases/Remedies";
import { NumberBins } from "../fields/NumberBins";
import { Steps, Words } from "../shared/PatternText";
import { quantity } from "../shared/quantity";
import { asked, equals, quote, type ViewProps } from "../shared/question";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import classes from "./PatternDetails.module.css";

const SAMPLES = 5;

/** A pattern opened: its course, sample lines, what stands in its open places, and what comes at the same time. */
export function PatternDetails({ pattern, question, change, onChip }: ViewProps & { pattern: Pattern }) {
	const { zone } = useZone();
	const detail = useSurvey<PatternDetail>(`/api/patterns/${pattern.name}`, asked(question));
	const params = asked({ ...question, chips: [...question.chips, equals("pattern", pattern.name)] });
	params.set("limit", String(SAMPLES));
	const samples = useQuery({
		queryKey: ["samples", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/lines", { ...asking(params), signal })),
	});
	return (
		<section className={classes.detail} aria-label={`${pattern.name} opened`}>
			<Remedies remedies={pattern.remedies} />
			<Steps pattern={pattern} width={560} height={44} />
			<h3>Lines</h3>
			<ul className={classes.samples}>
				{samples.data?.lines.map((line) => (
					<li key={line.id}>
						<button type="button" className="plain" onClick={() => change({ line: line.id })}>
							<time>{clock(line.time_us, zone)}</time> {line.machine} {line.message}
						</button>
					</li>
				))}
			</ul>
			<SurveyHead survey={detail}>
				{detail.answer?.places.length
					? `What stands in its ${detail.answer.places.length} open ${detail.answer.places.length === 1 ? "place" : "places"}, from left to right`
					: "It has no open places."}
			</SurveyHead>
			<ol className={classes.places}>
				{detail.answer?.places.map((place, index) => (
					<li key={index}>
						<span className={classes.fact}>
							{index + 1}: {place.type}, {number(place.distinct)} {place.distinct === 1 ? "value" : "values"}
							{place.numbers &&
								`, median ${quantity(place.numbers.median, place.numbers.unit)}, p95 ${quantity(place.numbers.p95, place.numbers.unit)}, ${quantity(place.numbers.min, place.numbers.unit)} to ${quantity(place.numbers.max, place.numbers.unit)}`}
						</span>
						{place.numbers && <NumberBins numbers={place.numbers} />}
						<span className={classes.values}>
							{place.values.slice(0, place.numbers ? 4 : 8).map(({ value, count }) => (
								<button
									type="button"
									key={value}
									title={`only lines with ${value}`}
									disabled={!/[\p{L}\p{N}]/u.test(value)}
									onClick={() => onChip(quote(value))}
								>
									{value || "(nothing)"} <b>{number(count)}</b>
								</button>
							))}
						</span>
					</li>
				))}
			</ol>
			{detail.done === 1 && (
				<>
					<h3>
						{detail.answer?.together.length
							? "Comes at the same time"
							: "No other pattern comes at the same time more often than by chance."}
					</h3>
					<ul className={classes.samples}>
						{detail.answer?.together.map((other) => (
							<li key={other.name}>
								<button
									type="button"
									className="plain"
									onClick={() => change({ chips: [...question.chips, equals("pattern", other.name)], view: "lines" })}
								>
									<span className={classes.fact}>
										{other.both} of {other.of} steps, by chance {other.chance}
									</span>{" "}
									<Words text={other.text} />
								</button>
							</li>
						))}
					</ul>
				</>
			)}
		</section>
	);
}
