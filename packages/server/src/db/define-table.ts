import { DataTypes, type Model, type ModelAttributes, type ModelStatic, type Sequelize } from "sequelize";
import { toStorable } from "./storable.js";

/**
 * Defines the model of one table. Every text and JSON attribute passes through `toStorable` on its way in, so that nothing an outsider sends
 * can make a write fail.
 */
export function defineTable<M extends Model>(
  sequelize: Sequelize,
  tableName: string,
  attributes: ModelAttributes<M>,
): ModelStatic<M> {
  const guarded = Object.fromEntries(
    Object.entries(attributes as Record<string, Column>).map(([name, column]) => [name, guard(name, column)]),
  );
  return sequelize.define<M>(tableName, guarded as ModelAttributes<M>, {
    tableName,
    underscored: true,
    timestamps: false,
  });
}

interface Column {
  type: unknown;
  set?: (this: Model, value: unknown) => void;
}

const FREE_TYPES = new Set<unknown>([DataTypes.TEXT, DataTypes.JSONB, DataTypes.JSON]);

const guard = (name: string, column: Column): Column =>
  FREE_TYPES.has(column.type)
    ? {
        ...column,
        set(value) {
          this.setDataValue(name as never, toStorable(value));
        },
      }
    : column;

/** A key that the database or the caller makes. */
export const UUID_KEY = { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 } as const;
/** Columns that must have a value, and columns that may have none. */
export const required = <T>(type: T) => ({ type, allowNull: false as const });
export const optional = <T>(type: T) => ({ type, allowNull: true as const });
/** A column whose value the database fills in when it is left out. */
export const byDefault = <T>(type: T, defaultValue: unknown) => ({ type, allowNull: false as const, defaultValue });
