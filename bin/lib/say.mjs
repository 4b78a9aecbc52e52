/** A reason to stop that is put in one sentence for whoever started the program. */
export class Stop extends Error {}

export function say(text) {
  console.log(text);
}

/** Runs a program's main function; a Stop ends it with its sentence and without a stack. */
export async function runMain(main) {
  try {
    await main();
  } catch (error) {
    if (error instanceof Stop) console.error(`\n${error.message}\n`);
    else if (error?.code === 'ENOSPC')
      console.error('\nThe disk is full. Make some room and start again; nothing was lost.\n');
    else console.error(error);
    process.exit(1);
  }
}
