import { Box, Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { api } from "../api/client";
import type { Course } from "../api/types";
import { dayAndTime } from "../frame/dates";
import { Loading, Trouble } from "../frame/states";
import { DiffersList } from "./DiffersList";

/** Every version of a course, the latest first, with what each changed. */
export function Versions({ held, onClose }: { held: Course; onClose: () => void }) {
  const found = api.useQuery("get", "/api/courses/{key}/versions", { params: { path: { key: held.key } } });
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="versions-title">
      <DialogTitle id="versions-title">Versions of {held.course.name}</DialogTitle>
      <DialogContent>
        {found.isPending && <Loading what="the versions" />}
        {found.isError && <Trouble error={found.error} again={() => void found.refetch()} />}
        {found.data?.map((v) => (
          <Box component="section" key={v.version} aria-label={`Version ${v.version}`} sx={{ mb: 2 }}>
            <Typography variant="h2">
              Version {v.version}, {v.by === null ? "as it ships" : `${v.by}, ${dayAndTime(v.at)}`}
            </Typography>
            <DiffersList differs={v.differs} />
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}
