import { Box } from "@mui/material";
import { api } from "../api/client";
import { Loading, Trouble } from "../frame/states";
import { useTitle } from "../frame/useTitle";
import { SafeKeeping } from "./SafeKeeping";
import { SchoolHead } from "../school/SchoolHead";
import { ChainSheet } from "./ChainSheet";
import { ErasedSheet } from "./ErasedSheet";
import { TakeAlong } from "./TakeAlong";
import { WhoDidWhat } from "./WhoDidWhat";

const styles = {
  page: {
    height: "100%",
    display: "grid",
    gridTemplateColumns: { xs: "minmax(0, 1fr)", md: "minmax(0, 1.5fr) minmax(0, 1fr)" },
    gridTemplateRows: { md: "auto minmax(0, 1fr)" },
    overflow: { xs: "auto", md: "hidden" },
    columnGap: 2.5,
    p: 2,
  },
  head: { gridColumn: "1 / -1" },
  side: { overflow: { xs: "visible", md: "auto" }, display: "grid", gap: 2, alignContent: "start" },
} as const;

/** Whether what was signed still stands as it was, who did what, and what leaves the school. */
export default function RecordsPage() {
  useTitle("Records");
  const found = api.useQuery("get", "/api/records");
  if (found.isPending) return <Loading what="the records" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return (
    <Box component="main" sx={styles.page}>
      <Box sx={styles.head}>
        <SchoolHead title="Records" />
      </Box>
      <WhoDidWhat />
      <Box sx={styles.side}>
        <ChainSheet records={found.data} />
        <SafeKeeping />
        <TakeAlong />
        <ErasedSheet erased={found.data.erased} />
      </Box>
    </Box>
  );
}
