// The same jobs done by CGAL (Debian: libcgal-dev), a careful native library, so that the project's own times and results can be
// set beside it. Only the benchmark compiles this, on demand; nothing of it is shipped.
// compare TASK IN.off OUT.off [NUMBER] [IN2.off]  prints one line of JSON: {"ms": ..., "count": ...}
#include <CGAL/Exact_predicates_inexact_constructions_kernel.h>
#include <CGAL/Polygon_mesh_processing/IO/polygon_mesh_io.h>
#include <CGAL/Polygon_mesh_processing/corefinement.h>
#include <CGAL/Polygon_mesh_processing/remesh.h>
#include <CGAL/Polygon_mesh_processing/self_intersections.h>
#include <CGAL/Polygon_mesh_processing/triangulate_hole.h>
#include <CGAL/Polygon_mesh_processing/border.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/Count_stop_predicate.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/GarlandHeckbert_policies.h>
#include <CGAL/Surface_mesh_simplification/edge_collapse.h>
#include <CGAL/alpha_wrap_3.h>
#include <chrono>
#include <fstream>
#include <iostream>
#include <string>
#include <vector>

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Mesh = CGAL::Surface_mesh<Kernel::Point_3>;
namespace PMP = CGAL::Polygon_mesh_processing;
namespace SMS = CGAL::Surface_mesh_simplification;

int main(int argc, char** argv) {
  if (argc < 4) return 2;
  const std::string task = argv[1];
  const double number = argc > 4 ? std::stod(argv[4]) : 0;
  Mesh mesh, other;
  if (!PMP::IO::read_polygon_mesh(argv[2], mesh)) return 3;
  if (argc > 5 && !PMP::IO::read_polygon_mesh(argv[5], other)) return 3;
  const auto from = std::chrono::steady_clock::now();
  std::size_t count = 0;
  if (task == "close-holes") {
    std::vector<Mesh::Halfedge_index> rims;
    PMP::extract_boundary_cycles(mesh, std::back_inserter(rims));
    for (const auto h : rims) {
      std::vector<Mesh::Face_index> faces;
      std::vector<Mesh::Vertex_index> vertices;
      PMP::triangulate_refine_and_fair_hole(mesh, h, std::back_inserter(faces), std::back_inserter(vertices));
      count++;
    }
  } else if (task == "self-crossings") {
    std::vector<std::pair<Mesh::Face_index, Mesh::Face_index>> pairs;
    PMP::self_intersections(mesh, std::back_inserter(pairs));
    count = pairs.size();
    std::ofstream out(argv[3]);
    for (const auto& [a, b] : pairs) out << std::min<unsigned>(a, b) << ' ' << std::max<unsigned>(a, b) << '\n';
  } else if (task == "simplify") {
    typedef SMS::GarlandHeckbert_policies<Mesh, Kernel> Policies;
    Policies policies(mesh);
    SMS::Count_stop_predicate<Mesh> stop(static_cast<std::size_t>(number * 1.5)); // edges are one and a half times the triangles
    count = SMS::edge_collapse(mesh, stop, CGAL::parameters::get_cost(policies.get_cost()).get_placement(policies.get_placement()));
  } else if (task == "refine") {
    PMP::isotropic_remeshing(faces(mesh), number, mesh, CGAL::parameters::number_of_iterations(5));
    count = mesh.number_of_faces();
  } else if (task == "reskin") {
    Mesh wrapped;
    CGAL::alpha_wrap_3(mesh, number, number / 10, wrapped);
    mesh = wrapped;
    count = mesh.number_of_faces();
  } else if (task == "union") {
    Mesh out;
    PMP::corefine_and_compute_union(mesh, other, out);
    mesh = out;
    count = mesh.number_of_faces();
  } else return 2;
  const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count();
  if (task != "self-crossings") {
    mesh.collect_garbage();
    CGAL::IO::write_polygon_mesh(argv[3], mesh, CGAL::parameters::stream_precision(9));
  }
  std::cout << "{\"ms\": " << ms << ", \"count\": " << count << "}\n";
}
