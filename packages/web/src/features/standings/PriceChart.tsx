import {
  formatPrice,
  isOnFrontier,
  nameOfCompetitor,
  type Price,
  type Priced,
  PRICES,
} from "@tourney/core/conclusions";
import { CartesianGrid, ErrorBar, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { glyphColor, glyphPath } from "../../ui/glyphs.js";

const HEIGHT_PX = 340;
const GLYPH_PX = 14;
const TICK = { fill: "var(--soft)", fontSize: 12 };

interface Point {
  price: number;
  rating: number;
  /** Half of the 95 % interval; nothing is drawn of one that is not known. */
  halfWidth: number;
  name: string;
  glyph: number;
  /** Its name stands to the left, since another stands close to the right. */
  isCrowded: boolean;
}

/** Another that is this near to the right, as a share of the width and in rating points, would cover a name. */
const NEAR = { share: 0.1, points: 200 };

function isCrowded(own: Priced, priced: readonly Priced[]): boolean {
  const widest = Math.sqrt(Math.max(...priced.map(({ price }) => price))) || 1;
  return priced.some((other) => {
    const share = (Math.sqrt(other.price) - Math.sqrt(own.price)) / widest;
    return share > 0 && share < NEAR.share && Math.abs(other.row.rating! - own.row.rating!) < NEAR.points;
  });
}

/** Prices lie far apart, so the scale is by the square root, which has a place for "nothing". Intervals are upright, the frontier is a line. */
export function PriceChart({ priced, price }: { priced: readonly Priced[]; price: Price }) {
  const points = priced.map((one): Point => {
    const { row, price: own } = one;
    const { entrant, rating, halfWidth } = row;
    return {
      price: own,
      rating: rating!,
      halfWidth: halfWidth ?? 0,
      name: nameOfCompetitor(row),
      glyph: entrant.glyph,
      isCrowded: isCrowded(one, priced),
    };
  });
  const frontier = points.filter((_, index) => isOnFrontier(priced[index]!));
  const described = points.map(
    ({ name, rating, price: own }) => `${name} ${Math.round(rating)} at ${formatPrice(own, price)}`,
  );
  return (
    <div role="img" aria-label={`Ratings against ${PRICES[price]}: ${described.join(", ")}`}>
      <ResponsiveContainer width="100%" height={HEIGHT_PX}>
        <ScatterChart margin={{ top: 16, right: 120, bottom: 8, left: 0 }} accessibilityLayer={false}>
          <CartesianGrid stroke="var(--rule)" />
          <XAxis
            type="number"
            dataKey="price"
            scale="sqrt"
            domain={[0, "dataMax"]}
            tickFormatter={(value: number) => formatPrice(value, price)}
            tick={TICK}
            stroke="var(--strong-rule)"
          />
          <YAxis
            type="number"
            dataKey="rating"
            domain={[
              (low: number) => Math.floor((low - 150) / 100) * 100,
              (high: number) => Math.ceil((high + 150) / 100) * 100,
            ]}
            tick={TICK}
            stroke="var(--strong-rule)"
          />
          <Scatter
            data={frontier}
            line={{ stroke: "var(--act)", strokeWidth: 1.5 }}
            lineJointType="stepAfter"
            shape={() => <g />}
            isAnimationActive={false}
          />
          <Scatter
            data={points}
            shape={({ cx, cy, payload }) => <Peg x={cx ?? 0} y={cy ?? 0} {...(payload as Point)} />}
            isAnimationActive={false}
          >
            <ErrorBar dataKey="halfWidth" direction="y" width={4} stroke="var(--ink)" strokeWidth={1} />
          </Scatter>
        </ScatterChart>
      </ResponsiveContainer>
    </div>
  );
}

/** An entrant's glyph, its name below the line that may lead on from it. */
function Peg({ x, y, glyph, name, isCrowded }: { x: number; y: number } & Pick<Point, "glyph" | "name" | "isCrowded">) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <g transform={`scale(${GLYPH_PX / 16}) translate(-8 -8)`}>
        <circle cx={8} cy={8} r={9} fill="var(--ground)" />
        <path d={glyphPath(glyph)} style={{ fill: glyphColor(glyph) }} fillRule="evenodd" />
      </g>
      <text x={isCrowded ? -11 : 11} y={17} textAnchor={isCrowded ? "end" : "start"} fill="var(--ink)" fontSize={13}>
        {name}
      </text>
    </g>
  );
}
