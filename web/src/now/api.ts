import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import type { Schemas } from "../api/types";

export type AlertNow = Schemas["AlertNow"];
export type TroubleNow = Schemas["TroubleNow"];
export type NowStrip = Schemas["NowStrips"]["strips"][number];
export type By = "service" | "machine";

const LOOK_MS = 5000;
const STRIPS_MS = 15_000;

/** What is wrong now. */
export function useNow() {
	return useQuery({
		queryKey: ["alerts", "now"],
		queryFn: ({ signal }) => answer(api.GET("/api/now", { signal })),
		refetchInterval: LOOK_MS,
	});
}

/** How services or machines have been over the last day. */
export function useStrips(by: By) {
	return useQuery({
		queryKey: ["now strips", by],
		queryFn: ({ signal }) => answer(api.GET("/api/now/strips", { params: { query: { by } }, signal })),
		refetchInterval: STRIPS_MS,
		placeholderData: (before) => before,
	});
}
