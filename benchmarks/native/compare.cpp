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
#include <CGAL/Polygon_mesh_processing/measure.h>
#include <CGAL/Shape_detection/Efficient_RANSAC.h>
#include <CGAL/Surface_mesh.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/Count_stop_predicate.h>
#include <CGAL/Surface_mesh_simplification/Policies/Edge_collapse/GarlandHeckbert_policies.h>
#include <CGAL/Surface_mesh_simplification/edge_collapse.h>
#include <CGAL/alpha_wrap_3.h>
#include <CGAL/property_map.h>
#include <CGAL/subdivision_method_3.h>
#include <chrono>
#include <fstream>
#include <iostream>
#include <string>
#include <vector>

using Kernel = CGAL::Exact_predicates_inexact_constructions_kernel;
using Mesh = CGAL::Surface_mesh<Kernel::Point_3>;
namespace PMP = CGAL::Polygon_mesh_processing;
namespace SMS = CGAL::Surface_mesh_simplification;

// Shapes in the middles and normals of triangles (Schnabel, Wahl & Klein 2007), a line each: kind, radius, triangles.
std::size_t shapes(const Mesh& mesh, double tolerance, const char* file) {
  namespace SD = CGAL::Shape_detection;
  using Oriented = std::pair<Kernel::Point_3, Kernel::Vector_3>;
  using Traits = SD::Efficient_RANSAC_traits<Kernel, std::vector<Oriented>, CGAL::First_of_pair_property_map<Oriented>,
                                             CGAL::Second_of_pair_property_map<Oriented>>;
  std::vector<Oriented> points;
  for (const auto f : mesh.faces()) {
    auto h = mesh.halfedge(f);
    const auto a = mesh.point(mesh.source(h)), b = mesh.point(mesh.target(h)), c = mesh.point(mesh.target(mesh.next(h)));
    const auto n = CGAL::cross_product(b - a, c - a);
    if (n.squared_length() > 0) points.emplace_back(CGAL::centroid(a, b, c), n / std::sqrt(n.squared_length()));
  }
  SD::Efficient_RANSAC<Traits> detect;
  detect.set_input(points);
  detect.add_shape_factory<SD::Plane<Traits>>();
  detect.add_shape_factory<SD::Cylinder<Traits>>();
  detect.add_shape_factory<SD::Cone<Traits>>();
  detect.add_shape_factory<SD::Sphere<Traits>>();
  detect.add_shape_factory<SD::Torus<Traits>>();
  SD::Efficient_RANSAC<Traits>::Parameters parameters;
  parameters.epsilon = tolerance;
  parameters.cluster_epsilon = 4 * std::sqrt(CGAL::to_double(PMP::area(mesh)) / points.size());
  parameters.normal_threshold = 0.85;
  parameters.min_points = std::max<std::size_t>(30, points.size() / 500);
  parameters.probability = 0.01;
  detect.detect(parameters);
  std::ofstream out(file);
  std::size_t count = 0;
  for (const auto& s : detect.shapes()) {
    count++;
    const auto size = s->indices_of_assigned_points().size();
    if (dynamic_cast<SD::Plane<Traits>*>(s.get())) out << "plane 0 " << size << '\n';
    else if (auto* c = dynamic_cast<SD::Cylinder<Traits>*>(s.get())) out << "cylinder " << c->radius() << ' ' << size << '\n';
    else if (auto* b = dynamic_cast<SD::Sphere<Traits>*>(s.get())) out << "sphere " << b->radius() << ' ' << size << '\n';
    else if (dynamic_cast<SD::Cone<Traits>*>(s.get())) out << "cone 0 " << size << '\n';
    else out << "ring 0 " << size << '\n';
  }
  return count;
}

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
  } else if (task == "catmull-clark") {
    CGAL::Subdivision_method_3::CatmullClark_subdivision(mesh, CGAL::parameters::number_of_iterations(static_cast<unsigned>(number)));
    count = mesh.number_of_faces();
  } else if (task == "shapes") {
    count = shapes(mesh, number, argv[3]);
  } else return 2;
  const double ms = std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count();
  if (task != "self-crossings" && task != "shapes") {
    mesh.collect_garbage();
    CGAL::IO::write_polygon_mesh(argv[3], mesh, CGAL::parameters::stream_precision(17));
  }
  std::cout << "{\"ms\": " << ms << ", \"count\": " << count << "}\n";
}
