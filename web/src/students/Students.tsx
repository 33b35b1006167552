import { useTitle } from "../frame/useTitle";
import { Box, Paper, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import { Link, useNavigate } from "react-router";
import { useStudents } from "../api/questions";
import { day } from "../frame/dates";
import { Empty, Loading, Trouble } from "../frame/states";
import { narrow, tokens } from "../theme";

export default function Students() {
  useTitle("Students");
  const navigate = useNavigate();
  const found = useStudents();
  if (found.isPending) return <Loading what="the students" />;
  if (found.isError) return <Trouble error={found.error} again={() => void found.refetch()} />;
  return (
    <Box component="main" sx={{ p: 2.5, maxWidth: 980 }}>
      <Typography variant="h1" sx={{ mb: 1.5 }}>
        Students
      </Typography>
      {found.data.length === 0 ? (
        <Empty>No student yet.</Empty>
      ) : (
        <Paper sx={{ border: `1px solid ${tokens.hairline}` }}>
          <Table sx={narrow}>
            <TableHead>
              <TableRow>
                <TableCell>Name</TableCell>
                <TableCell>Standing</TableCell>
                <TableCell>Sorties flown</TableCell>
                <TableCell>Last flew</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {found.data.map((s) => (
                <TableRow
                  key={s.id}
                  hover
                  sx={{ cursor: "pointer" }}
                  onClick={() => void navigate(`/students/${s.id}`)}
                >
                  <TableCell>
                    <Link to={`/students/${s.id}`} style={{ color: tokens.plan, fontWeight: 680 }}>
                      {s.name}
                    </Link>
                  </TableCell>
                  <TableCell>{s.stage}</TableCell>
                  <TableCell>{s.sorties}</TableCell>
                  <TableCell>{s.last_flew ? day(s.last_flew) : "not yet"}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Paper>
      )}
    </Box>
  );
}
