// No import circles: neither between files (types count as well) nor between the folders of a room. A circle cannot be
// taken apart, moved or understood piece by piece. Part of `npm run lint`.

/** @type {import('dependency-cruiser').IConfiguration} */
export default {
  forbidden: [
    {
      name: 'no-circles-between-files',
      comment: 'Move what both need into a file below both.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    {
      name: 'no-circles-between-folders',
      comment: 'Move what both rooms need into a room below both: core/model, server/base, lagoon/base.',
      severity: 'error',
      scope: 'folder',
      from: {},
      to: { circular: true },
    },
    {
      name: 'no-unresolvable',
      severity: 'error',
      from: {},
      to: { couldNotResolve: true },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/|\\.test\\.ts$|\\.playa' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    extraExtensionsToScan: [],
    enhancedResolveOptions: {
      extensions: ['.ts', '.vue', '.mjs', '.js', '.d.ts'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'types', 'default'],
    },
  },
};
