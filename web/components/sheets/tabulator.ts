// Tabulator with the parts that a sheet needs.
import {
  EditModule,
  FilterModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  MoveColumnsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  SortModule,
  Tabulator,
} from 'tabulator-tables';

Tabulator.registerModule([
  EditModule,
  FilterModule,
  FormatModule,
  FrozenColumnsModule,
  InteractionModule,
  KeybindingsModule,
  MoveColumnsModule,
  ResizeColumnsModule,
  SelectRangeModule,
  SortModule,
]);

export { Tabulator };
