import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";

/** Values of a field that begin as a person types. */
export function useCompletions(field: string, prefix: string): string[] {
	const { data } = useQuery({
		queryKey: ["completions", field, prefix],
		queryFn: ({ signal }) => answer(api.GET("/api/completions", { params: { query: { field, prefix } }, signal })),
		placeholderData: keepPreviousData,
	});
	return data?.completions.map((one) => one.text) ?? [];
}
