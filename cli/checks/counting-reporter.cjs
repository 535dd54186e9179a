const { writeFileSync } = require('node:fs');
const { reporters, Runner } = require('mocha');

/**
 * The usual listing, and in a file for whoever started the tests: how many passed, and what failed, by title and message.
 * Hooks that fail count as failures.
 */
module.exports = class CountingReporter extends reporters.Spec {
  constructor(runner, options) {
    super(runner, options);
    const faults = [];
    runner.on(Runner.constants.EVENT_TEST_FAIL, (test, error) => {
      faults.push(`${test.fullTitle()}: ${String(error?.message ?? error)}`);
    });
    runner.once(Runner.constants.EVENT_RUN_END, () => {
      const path = process.env.COBWEB_COUNT_FILE;
      if (path) writeFileSync(path, JSON.stringify({ passed: this.stats.passes, faults }));
    });
  }
};
