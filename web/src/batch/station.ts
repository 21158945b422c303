// What every station gets: the batch as it is seen, and this browser's monotonic clock at the answer.
import type { BatchView } from "../api/client";

export type StationProps = { view: BatchView & { received: number } };
