import { availableParallelism } from 'node:os';
import { configDefaults, defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Statistics of many runs are long; the rest is short. `TESTS` says which are run: short unless told. */
const wanted = process.env['TESTS'] ?? 'short';
const exclude = [...configDefaults.exclude, ...(wanted === 'short' ? ['**/*.long.test.ts'] : [])];
/** What keeps a database or a clock of its own in a module needs the module for itself. */
const alone = ['src/{service,store,cli,server}/**/*.test.{ts,tsx}'];

/** One makes the demo while others do without; those that want it come when it is there. */
class DemoBeside extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const place = ({ moduleId, project }: TestSpecification) =>
      moduleId.endsWith('/service/demo-works.test.ts') ? 0 : project.name === 'core' ? 1 : 2;
    return (await super.sort(files)).sort((a, b) => place(a) - place(b));
  }
}

export default defineConfig({
  test: {
    // One for each core; vitest would leave one idle.
    maxWorkers: availableParallelism(),
    testTimeout: 30_000,
    sequence: { sequencer: DemoBeside },
    projects:
      wanted === 'long'
        ? [{ extends: true, test: { name: 'long', include: ['{src,demo}/**/*.long.test.ts'] } }]
        : [
            { extends: true, test: { name: 'alone', include: alone, exclude, globalSetup: ['demo/demo-for-tests.ts'] } },
            {
              extends: true,
              // The core holds no state: its files need not be loaded anew for each test.
              test: { name: 'core', include: ['{src,demo}/**/*.test.{ts,tsx}'], exclude: [...exclude, ...alone], isolate: false },
            },
          ],
  },
});
