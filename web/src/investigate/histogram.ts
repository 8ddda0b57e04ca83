import { keepPreviousData, type UseQueryResult, useQuery } from "@tanstack/react-query";
import { answer, api, asking } from "../api/client";
import type { Histogram } from "../api/types";
import { askedAgainst, type Question } from "../shared/question";
import { SEVERITIES } from "../shared/severity";
import { utcOffset } from "../shared/time";

/** How far the counting of a question is; a person may stop it. */
export type Count = "done" | "going on" | "stopped";

/** Lines of a question over time. While they are counted those of the question before stand in their place. */
export function useHistogram(question: Question, zone: string) {
	const params = askedAgainst({ ...question, hidden: [] });
	if (question.lanes) params.set("by", question.lanes);
	if (!question.whole && !question.compared) params.set("fold", "yes");
	params.set("utc_offset", String(utcOffset(question.fromUs ?? Date.now() * 1000, zone)));
	return useQuery({
		queryKey: ["histogram", params.toString()],
		queryFn: ({ signal }) => answer(api.GET("/api/histogram", { ...asking(params), signal })),
		placeholderData: keepPreviousData,
	});
}

type Asked = Pick<UseQueryResult<Histogram>, "data" | "isPlaceholderData" | "fetchStatus">;

export function countOf({ data, isPlaceholderData, fetchStatus }: Asked): Count {
	if (data !== undefined && !isPlaceholderData) return "done";
	return fetchStatus === "idle" ? "stopped" : "going on";
}

/** Steps of all series with the counts of the nine severities; a step stands there once for each series that has it. */
export function stepsOf(histogram: Histogram): number[][] {
	return [...histogram.series, histogram.others].flatMap((series) => series.counts);
}

/** Lines of the severities that are shown. */
export function shownTotal(histogram: Histogram, hidden: string[]): number {
	if (!hidden.length) return histogram.total;
	const shown = (counts: number[]) =>
		counts.reduce((sum, n, code) => (hidden.includes(SEVERITIES[code] ?? "") ? sum : sum + n), 0);
	return stepsOf(histogram).reduce((sum, [, ...counts]) => sum + shown(counts), 0);
}
