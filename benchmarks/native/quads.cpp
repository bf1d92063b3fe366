// A net of quads over a mesh by libgmsh (Debian: libgmsh-dev): the skin divided into patches that lie flat (Remacle et al. 2010), triangles
// by Delaunay's rule, all of them joined to quads by a matching (Remacle et al. 2012). Only the benchmark compiles this; nothing is shipped.
// quads IN.stl OUT.off EDGE ANGLE  prints one line of JSON: {"ms": ..., "count": ..., "others": ...}
#include <gmsh.h>
#include <chrono>
#include <cmath>
#include <fstream>
#include <iostream>
#include <map>
#include <string>
#include <vector>

int main(int argc, char** argv) {
  if (argc < 5) return 2;
  const double edge = std::stod(argv[3]), angle = std::stod(argv[4]);
  gmsh::initialize();
  gmsh::option::setNumber("General.Terminal", 0);
  gmsh::option::setNumber("General.NumThreads", 1);
  gmsh::merge(argv[1]);
  const auto from = std::chrono::steady_clock::now();
  gmsh::model::mesh::classifySurfaces(angle * M_PI / 180, true, true, M_PI);
  gmsh::model::mesh::createGeometry();
  gmsh::model::geo::synchronize();
  gmsh::option::setNumber("Mesh.MeshSizeMin", edge);
  gmsh::option::setNumber("Mesh.MeshSizeMax", edge);
  gmsh::option::setNumber("Mesh.MeshSizeExtendFromBoundary", 0);
  gmsh::option::setNumber("Mesh.Algorithm", 6);
  gmsh::option::setNumber("Mesh.RecombinationAlgorithm", 3);
  gmsh::option::setNumber("Mesh.RecombineAll", 1);
  gmsh::model::mesh::generate(2);
  const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count();
  std::vector<std::size_t> nodes;
  std::vector<double> at, unused;
  gmsh::model::mesh::getNodes(nodes, at, unused);
  std::map<std::size_t, std::size_t> number;
  for (std::size_t i = 0; i < nodes.size(); i++) number[nodes[i]] = i;
  std::vector<int> types;
  std::vector<std::vector<std::size_t>> tags, corners;
  gmsh::model::mesh::getElements(types, tags, corners, 2);
  const int four = 3; // the library's number for quads
  std::size_t quads = 0, others = 0;
  for (std::size_t i = 0; i < types.size(); i++) (types[i] == four ? quads : others) += tags[i].size();
  std::ofstream out(argv[2]);
  out.precision(17);
  out << "OFF\n" << nodes.size() << ' ' << quads << " 0\n";
  for (std::size_t i = 0; i < nodes.size(); i++) out << at[3 * i] << ' ' << at[3 * i + 1] << ' ' << at[3 * i + 2] << '\n';
  for (std::size_t i = 0; i < types.size(); i++)
    for (std::size_t e = 0; types[i] == four && e < corners[i].size(); e += 4) {
      out << 4;
      for (int c = 0; c < 4; c++) out << ' ' << number[corners[i][e + c]];
      out << '\n';
    }
  std::cout << "{\"ms\": " << ms << ", \"count\": " << quads << ", \"others\": " << others << "}\n";
  gmsh::finalize();
}
