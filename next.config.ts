import type { NextConfig } from 'next'

const config: NextConfig = {
  serverExternalPackages: ['pg', 'graphile-worker', 'manifold-3d', 'replicad-opencascadejs', 'meshoptimizer'],
  poweredByHeader: false,
  sassOptions: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
  typescript: { ignoreBuildErrors: true }, // types are checked by the test command, once, over everything
}

export default config
