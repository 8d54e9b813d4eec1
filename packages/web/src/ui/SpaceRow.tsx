/** Stands for rows that are out of sight. */
export const SpaceRow = ({ heightPx }: { heightPx: number }) =>
  heightPx <= 0 ? null : (
    <tr aria-hidden="true">
      <td style={{ height: heightPx, padding: 0 }} />
    </tr>
  );
