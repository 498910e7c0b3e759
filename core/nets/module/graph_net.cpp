#include "nets/module/graph_net.h"

#include <omp.h>
#include <onnx/onnx_pb.h>
#include <opencv2/core.hpp>

#include <algorithm>
#include <fstream>
#include <stdexcept>
#include <thread>

namespace buttonhole
{

namespace
{

using dnnl::memory;
using Layout = memory::format_tag;

constexpr auto kFloats = memory::data_type::f32;
constexpr size_t kOwn = SIZE_MAX; ///< no room that others may take
constexpr auto kForward = dnnl::prop_kind::forward_inference;

std::runtime_error unknown(const std::string &what)
{
    return std::runtime_error("a net with " + what + " is not known");
}

onnx::ModelProto readModel(const std::string &file)
{
    std::ifstream in(file, std::ios::binary);
    onnx::ModelProto out;
    if (!in || !out.ParseFromIstream(&in))
        throw std::runtime_error("it is no ONNX file");
    return out;
}

memory::dims numbersOf(const onnx::NodeProto &node, const char *name)
{
    for (const auto &attribute : node.attribute())
        if (attribute.name() == name)
            return {attribute.ints().begin(), attribute.ints().end()};
    return {};
}

std::string wordOf(const onnx::NodeProto &node, const char *name)
{
    for (const auto &attribute : node.attribute())
        if (attribute.name() == name)
            return attribute.s();
    return {};
}

/// Weights as 32-bit floats; the tensor's own bytes are let go.
std::vector<float> takeValues(onnx::TensorProto &tensor)
{
    size_t count = 1;
    for (const int64_t side : tensor.dims())
        count *= size_t(side);
    std::vector<float> out(count);
    const bool isHalf = tensor.data_type() == onnx::TensorProto::FLOAT16;
    const size_t bytes = count * (isHalf ? 2 : 4);
    if ((!isHalf && tensor.data_type() != onnx::TensorProto::FLOAT) ||
        tensor.raw_data().size() != bytes)
        throw unknown("such weights");
    auto &raw = *tensor.mutable_raw_data();
    cv::Mat(1, int(count), isHalf ? CV_16F : CV_32F, raw.data())
        .convertTo(cv::Mat(1, int(count), CV_32F, out.data()), CV_32F);
    std::string().swap(raw);
    return out;
}

/// Channels that lie side by side in innerDesc.
int64_t blockSize()
{
    return dnnl::get_effective_cpu_isa() >= dnnl::cpu_isa::avx512_core ? 16 : 8;
}

/// The layout in which convolutions are quickest, the same for all that lies between them.
memory::desc innerDesc(const memory::dims &size)
{
    const bool isBlocked = size[1] != 3; // blocks that are not full are filled up
    return {size, kFloats,
            !isBlocked          ? Layout::nchw
            : blockSize() == 16 ? Layout::nChw16c
                                : Layout::nChw8c};
}

/// Whether of a kernel of 3 x 3 only the middle ever lies on the plane: its others are as far away
/// as the plane is wide.
bool onlyMiddleIsSeen(const memory::dims &from, const memory::dims &to, const memory::dims &kernel,
                      const memory::dims &dilations)
{
    return kernel[2] == 3 && kernel[3] == 3 && from[2] == to[2] && from[3] == to[3] &&
           dilations[0] >= from[2] && dilations[1] >= from[3];
}

void workOnAll()
{
    omp_set_num_threads(int(std::max(1U, std::thread::hardware_concurrency())));
}

} // namespace

GraphNet::GraphNet(const std::string &onnx, const std::vector<int> &sides,
                   const std::vector<std::string> &outputs)
{
    workOnAll();
    auto model = readModel(onnx);
    for (const int side : sides)
        build(*model.mutable_graph(), side, outputs);
    m_weights.clear();
    m_free.clear();
}

void GraphNet::build(onnx::GraphProto &graph, int side, const std::vector<std::string> &outputs)
{
    Sized &sized = m_sized.emplace_back();
    sized.input = memory({{1, 3, side, side}, kFloats, Layout::nchw}, m_engine);
    Weights weights;
    for (auto &each : *graph.mutable_initializer())
        weights[each.name()] = &each;
    std::map<std::string, const onnx::NodeProto *> made;
    for (const auto &node : graph.node()) {
        made[node.output(0)] = &node;
        for (const auto &input : node.input())
            ++m_uses[input];
    }
    for (const std::string &output : outputs)
        ++m_uses[output]; // what is asked for stays
    for (const auto &node : graph.node())
        if (node.op_type() == "Relu" && m_uses[node.input(0)] == 1 &&
            made.count(node.input(0)) == 1 && made[node.input(0)]->op_type() == "Conv")
            m_relued[node.input(0)] = node.output(0);
    placeWhatIsJoined(graph, weights, outputs);
    m_tensors["input"] = {sized.input, kOwn};
    for (const auto &node : graph.node())
        add(node, weights);
    for (const std::string &output : outputs)
        sized.outputs.push_back(inLayout(tensor(output), Layout::nchw));
    for (const auto &[name, tensor] : m_tensors) // the next size takes the same room
        if (tensor.room != kOwn)
            m_free.emplace(m_rooms[tensor.room].get_desc().get_size(), tensor.room);
    m_tensors.clear();
    m_uses.clear();
    m_relued.clear();
    m_places.clear();
}

void GraphNet::placeWhatIsJoined(const onnx::GraphProto &graph, const Weights &weights,
                                 const std::vector<std::string> &outputs)
{
    std::map<std::string, int64_t> channels{{"input", 3}};
    for (const auto &node : graph.node()) {
        int64_t &count = channels[node.output(0)];
        if (node.op_type() == "Conv" && weights.count(node.input(1)) == 1) {
            count = weights.at(node.input(1))->dims(0);
        } else if (node.op_type() != "Concat") {
            count = channels[node.input(0)];
        } else {
            std::map<std::string, Place> places;
            bool areWhole = true;
            for (const auto &input : node.input()) {
                const bool isFree = m_places.count(input) == 0 && channels.count(input) == 1 &&
                                    channels[input] % blockSize() == 0 && input != "input" &&
                                    std::count(outputs.begin(), outputs.end(), input) == 0;
                areWhole =
                    isFree && places.insert({input, {node.output(0), count, 0}}).second && areWhole;
                count += channels[input];
            }
            for (auto &[part, place] : places)
                place.whole = count;
            if (areWhole)
                m_places.merge(places);
        }
    }
}

void GraphNet::add(const onnx::NodeProto &node, const Weights &weights)
{
    const std::string &kind = node.op_type();
    const std::string &output = node.output(0);
    if (kind == "Conv") {
        const auto relu = m_relued.find(output);
        const bool thenRelu = relu != m_relued.end();
        const std::string &name = thenRelu ? relu->second : output;
        m_tensors[name] = convolved(node, weights, name, thenRelu);
    } else if (kind == "Relu") {
        if (m_tensors.count(output) == 1) // the convolution before it has done that
            return;
        m_tensors[output] = through(node, dnnl::algorithm::eltwise_relu);
    } else if (kind == "Sigmoid") {
        m_tensors[output] = through(node, dnnl::algorithm::eltwise_logistic);
    } else if (kind == "MaxPool") {
        m_tensors[output] = pooled(node);
    } else if (kind == "Concat") {
        if (m_tensors.count(output) == 0) // else its parts lie there already
            m_tensors[output] = joined(node);
    } else if (kind == "Resize") {
        m_tensors[output] = enlarged(node);
    } else if (kind == "Add") {
        m_tensors[output] = summed(node);
    } else {
        throw unknown(kind);
    }
    for (const auto &input : node.input())
        if (weights.count(input) == 0 && !input.empty())
            leave(input);
}

const memory &GraphNet::tensor(const std::string &name) const
{
    const auto at = m_tensors.find(name);
    if (at == m_tensors.end())
        throw unknown("a tensor " + name);
    return at->second.memory;
}

GraphNet::Tensor GraphNet::newTensor(const memory::desc &desc, const std::string &name)
{
    if (const auto place = m_places.find(name); place != m_places.end()) {
        memory::dims size = desc.dims();
        const auto [joint, at, whole] = place->second;
        size[1] = whole;
        if (m_tensors.count(joint) == 0)
            m_tensors[joint] = newTensor(innerDesc(size), joint);
        auto *first = static_cast<float *>(m_tensors[joint].memory.get_data_handle());
        return {memory(desc, m_engine, first + at * size[2] * size[3]), kOwn};
    }
    const size_t bytes = desc.get_size();
    if (const auto free = m_free.lower_bound(bytes); free != m_free.end()) {
        const size_t room = free->second;
        m_free.erase(free);
        return {memory(desc, m_engine, m_rooms[room].get_data_handle()), room};
    }
    m_rooms.emplace_back(memory::desc({int64_t(bytes)}, memory::data_type::u8, Layout::x),
                         m_engine);
    return {memory(desc, m_engine, m_rooms.back().get_data_handle()), m_rooms.size() - 1};
}

void GraphNet::leave(const std::string &name)
{
    if (--m_uses[name] > 0)
        return;
    const auto at = m_tensors.find(name);
    if (at == m_tensors.end())
        return;
    if (const size_t room = at->second.room; room != kOwn)
        m_free.emplace(m_rooms[room].get_desc().get_size(), room);
    m_tensors.erase(at);
}

GraphNet::Tensor GraphNet::convolved(const onnx::NodeProto &node, const Weights &weights,
                                     const std::string &name, bool thenRelu)
{
    const memory &from = tensor(node.input(0));
    onnx::TensorProto &kernel = *weights.at(node.input(1));
    memory::dims shape(kernel.dims().begin(), kernel.dims().end());
    memory::dims pads = numbersOf(node, "pads");
    const memory::dims strides = numbersOf(node, "strides");
    memory::dims dilations = numbersOf(node, "dilations");
    if (node.input_size() != 3 || shape.size() != 4 || pads.size() != 4 || strides.size() != 2 ||
        dilations.size() != 2 || from.get_desc().dims()[1] != shape[1])
        throw unknown("such a convolution");
    memory::dims size{1, shape[0], 0, 0};
    for (size_t i = 0; i < 2; ++i)
        size[i + 2] = (from.get_desc().dims()[i + 2] + pads[i] + pads[i + 2] -
                       dilations[i] * (shape[i + 2] - 1) - 1) /
                          strides[i] +
                      1;
    const bool seesMiddle = onlyMiddleIsSeen(from.get_desc().dims(), size, shape, dilations);
    if (seesMiddle) { // oneDNN's quick ways do not know that
        shape[2] = shape[3] = 1;
        pads.assign(4, 0);
    }
    for (int64_t &each : dilations)
        each = seesMiddle ? 0 : each - 1; // oneDNN counts what is left out
    dnnl::primitive_attr attributes;
    if (thenRelu) {
        dnnl::post_ops after;
        after.append_eltwise(1, dnnl::algorithm::eltwise_relu, 0, 0);
        attributes.set_post_ops(after);
    }
    const dnnl::convolution_forward::primitive_desc how({kForward,
                                                         dnnl::algorithm::convolution_direct,
                                                         from.get_desc(),
                                                         {shape, kFloats, Layout::any},
                                                         {{shape[0]}, kFloats, Layout::x},
                                                         innerDesc(size),
                                                         strides,
                                                         dilations,
                                                         {pads[0], pads[1]},
                                                         {pads[2], pads[3]}},
                                                        attributes, m_engine);
    onnx::TensorProto &biases = *weights.at(node.input(2));
    if (biases.dims_size() != 1 || biases.dims(0) != shape[0])
        throw unknown("such a convolution");
    const memory asUsed = seesMiddle ? middleOf(kernel, how.weights_desc())
                                     : weightsFor(kernel, how.weights_desc(), Layout::oihw);
    const memory bias = weightsFor(biases, how.bias_desc(), Layout::x);
    Tensor to = newTensor(how.dst_desc(), name);
    m_sized.back().steps.push_back({dnnl::convolution_forward(how),
                                    {{DNNL_ARG_SRC, from},
                                     {DNNL_ARG_WEIGHTS, asUsed},
                                     {DNNL_ARG_BIAS, bias},
                                     {DNNL_ARG_DST, to.memory}}});
    return to;
}

memory GraphNet::weightsFor(onnx::TensorProto &tensor, const memory::desc &desc, Layout asRead)
{
    const auto known = m_weights.find(tensor.name());
    if (known != m_weights.end() && known->second.get_desc() == desc)
        return known->second;
    std::vector<float> values;
    memory from;
    if (known != m_weights.end()) {
        from = known->second;
    } else {
        values = takeValues(tensor);
        from = memory({{tensor.dims().begin(), tensor.dims().end()}, kFloats, asRead}, m_engine,
                      values.data());
    }
    memory to(desc, m_engine);
    dnnl::reorder(from, to).execute(m_stream, from, to);
    m_stream.wait();
    m_weights.emplace(tensor.name(), to);
    return to;
}

memory GraphNet::middleOf(onnx::TensorProto &kernel, const memory::desc &desc)
{
    const memory::dims shape(kernel.dims().begin(), kernel.dims().end());
    const memory whole = weightsFor(kernel, {shape, kFloats, Layout::oihw}, Layout::oihw);
    const memory::dims one{shape[0], shape[1], 1, 1};
    memory middle({one, kFloats, Layout::oihw}, m_engine);
    const auto *from = static_cast<const float *>(whole.get_data_handle());
    auto *values = static_cast<float *>(middle.get_data_handle());
    const int64_t taps = shape[2] * shape[3];
    for (int64_t i = 0; i < shape[0] * shape[1]; ++i)
        values[i] = from[i * taps + taps / 2];
    memory to(desc, m_engine);
    dnnl::reorder(middle, to).execute(m_stream, middle, to);
    m_stream.wait();
    return to;
}

GraphNet::Tensor GraphNet::pooled(const onnx::NodeProto &node)
{
    const memory &from = tensor(node.input(0));
    const memory::dims kernel = numbersOf(node, "kernel_shape");
    const memory::dims was = from.get_desc().dims();
    if (kernel != memory::dims{2, 2} || numbersOf(node, "strides") != kernel || was[2] % 2 != 0 ||
        was[3] % 2 != 0)
        throw unknown("such a pooling");
    const dnnl::pooling_forward::primitive_desc how({kForward,
                                                     dnnl::algorithm::pooling_max,
                                                     from.get_desc(),
                                                     innerDesc({1, was[1], was[2] / 2, was[3] / 2}),
                                                     kernel,
                                                     kernel,
                                                     {0, 0},
                                                     {0, 0}},
                                                    m_engine);
    Tensor to = newTensor(how.dst_desc(), node.output(0));
    m_sized.back().steps.push_back(
        {dnnl::pooling_forward(how), {{DNNL_ARG_SRC, from}, {DNNL_ARG_DST, to.memory}}});
    return to;
}

GraphNet::Tensor GraphNet::joined(const onnx::NodeProto &node)
{
    std::vector<memory::desc> parts;
    memory::dims size{};
    for (const auto &input : node.input()) {
        parts.push_back(tensor(input).get_desc());
        const int64_t before = size.empty() ? 0 : size[1];
        size = parts.back().dims();
        size[1] += before;
    }
    constexpr int kChannels = 1;
    const dnnl::concat::primitive_desc how(innerDesc(size), kChannels, parts, m_engine);
    Tensor to = newTensor(how.dst_desc(), node.output(0));
    Step step{dnnl::concat(how), {{DNNL_ARG_DST, to.memory}}};
    for (int i = 0; i < node.input_size(); ++i)
        step.arguments[DNNL_ARG_MULTIPLE_SRC + i] = tensor(node.input(i));
    m_sized.back().steps.push_back(std::move(step));
    return to;
}

GraphNet::Tensor GraphNet::enlarged(const onnx::NodeProto &node)
{
    const memory &from = tensor(node.input(0));
    if (wordOf(node, "mode") != "linear" ||
        wordOf(node, "coordinate_transformation_mode") != "half_pixel")
        throw unknown("such an enlargement");
    const memory::dims was = from.get_desc().dims();
    const dnnl::resampling_forward::primitive_desc how(
        {kForward,
         dnnl::algorithm::resampling_linear,
         {2.0F, 2.0F},
         from.get_desc(),
         innerDesc({1, was[1], 2 * was[2], 2 * was[3]})},
        m_engine);
    Tensor to = newTensor(how.dst_desc(), node.output(0));
    m_sized.back().steps.push_back(
        {dnnl::resampling_forward(how), {{DNNL_ARG_SRC, from}, {DNNL_ARG_DST, to.memory}}});
    return to;
}

GraphNet::Tensor GraphNet::summed(const onnx::NodeProto &node)
{
    const memory &a = tensor(node.input(0));
    const memory &b = tensor(node.input(1));
    const dnnl::binary::primitive_desc how(
        {dnnl::algorithm::binary_add, a.get_desc(), b.get_desc(), a.get_desc()}, m_engine);
    Tensor to = newTensor(how.dst_desc(), node.output(0));
    m_sized.back().steps.push_back(
        {dnnl::binary(how), {{DNNL_ARG_SRC_0, a}, {DNNL_ARG_SRC_1, b}, {DNNL_ARG_DST, to.memory}}});
    return to;
}

GraphNet::Tensor GraphNet::through(const onnx::NodeProto &node, dnnl::algorithm function)
{
    const memory &from = tensor(node.input(0));
    const dnnl::eltwise_forward::primitive_desc how({kForward, function, from.get_desc(), 0, 0},
                                                    m_engine);
    Tensor to = newTensor(how.dst_desc(), node.output(0));
    m_sized.back().steps.push_back(
        {dnnl::eltwise_forward(how), {{DNNL_ARG_SRC, from}, {DNNL_ARG_DST, to.memory}}});
    return to;
}

memory GraphNet::inLayout(const memory &from, Layout layout)
{
    memory to({from.get_desc().dims(), kFloats, layout}, m_engine);
    m_sized.back().steps.push_back(
        {dnnl::reorder(from, to), {{DNNL_ARG_FROM, from}, {DNNL_ARG_TO, to}}});
    return to;
}

std::vector<GraphNet::Plane> GraphNet::work(const std::vector<float> &input, const Run &run)
{
    workOnAll();
    const auto sized = std::find_if(m_sized.begin(), m_sized.end(), [&](const Sized &each) {
        return each.input.get_desc().get_size() == input.size() * sizeof(float);
    });
    if (sized == m_sized.end())
        throw std::runtime_error("an input of another size");
    std::copy(input.begin(), input.end(), static_cast<float *>(sized->input.get_data_handle()));
    const std::vector<Step> &steps = sized->steps;
    for (size_t i = 0; i < steps.size(); ++i) {
        if (run.stopped())
            return {};
        steps[i].primitive.execute(m_stream, steps[i].arguments);
        run.report(float(i + 1) / float(steps.size()));
    }
    m_stream.wait();
    std::vector<Plane> out;
    for (const memory &each : sized->outputs) {
        const memory::dims size = each.get_desc().dims();
        const auto *values = static_cast<const float *>(each.get_data_handle());
        out.push_back({int(size[1]),
                       int(size[2]),
                       int(size[3]),
                       {values, values + size[1] * size[2] * size[3]}});
    }
    return out;
}

} // namespace buttonhole
