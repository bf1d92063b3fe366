import type { NextConfig } from 'next'

const config: NextConfig = {
  serverExternalPackages: ['pg', 'graphile-worker', 'manifold-3d', 'replicad-opencascadejs', 'meshoptimizer'],
  poweredByHeader: false,
  sassOptions: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
  // Server code is read by nobody and loaded once: small or mapped it would only take longer to build.
  experimental: {
    serverSourceMaps: false,
    turbopackSourceMaps: false,
    turbopackFileSystemCacheForBuild: false,
    turbopackMinify: { server: false },
  },
  typescript: { ignoreBuildErrors: true }, // types are checked by the test command, once, over everything
}

export default config
