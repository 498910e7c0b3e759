#pragma once

#include "base/run.h"

#include <oneapi/dnnl/dnnl.hpp>

#include <map>
#include <string>
#include <unordered_map>
#include <vector>

namespace onnx
{
class GraphProto;
class NodeProto;
class TensorProto;
} // namespace onnx

namespace buttonhole
{

/// A network of convolutions as its ONNX graph says, worked out by oneDNN on all processors. Knows
/// Conv, Relu, MaxPool, Concat, Resize (linear, twice as large), Add and Sigmoid; weights of 16 or
/// 32 bits. It may work at several sizes, which share weights and room. One thread at a time.
class GraphNet
{
public:
    /// A plane of what the graph works out: `channels` x height x width, the rows of a channel
    /// without gaps.
    struct Plane {
        int channels = 0;
        int height = 0;
        int width = 0;
        std::vector<float> values;
    };

    /// @param onnx    file with one input `input` of 3 channels
    /// @param sides   px of the input's square, each that will be worked at; the largest first
    /// @param outputs names of the tensors that are asked for
    /// Throws where the file cannot be read, or holds what is not known here.
    GraphNet(const std::string &onnx, const std::vector<int> &sides,
             const std::vector<std::string> &outputs);

    /// @param input 3 planes, side x side, row by row; its size says which side
    /// Throws dnnl::error; empty where the run was stopped.
    std::vector<Plane> work(const std::vector<float> &input, const Run &run);

private:
    struct Step {
        dnnl::primitive primitive;
        std::unordered_map<int, dnnl::memory> arguments;
    };
    using Weights = std::map<std::string, onnx::TensorProto *>;

    /// The steps for one size of input.
    struct Sized {
        std::vector<Step> steps;
        dnnl::memory input;
        std::vector<dnnl::memory> outputs;
    };

    struct Tensor {
        dnnl::memory memory;
        size_t room = 0; ///< of m_rooms, where it lies
    };

    /// Where a tensor lies in the one that joins it to others: blocks of channels follow each
    /// other, so that nothing is copied.
    struct Place {
        std::string joint;
        int64_t at = 0;    ///< channels before it
        int64_t whole = 0; ///< all channels of the joint one
    };

    void build(onnx::GraphProto &graph, int side, const std::vector<std::string> &outputs);
    void add(const onnx::NodeProto &node, const Weights &weights);
    void placeWhatIsJoined(const onnx::GraphProto &graph, const Weights &weights,
                           const std::vector<std::string> &outputs);
    Tensor convolved(const onnx::NodeProto &node, const Weights &weights, const std::string &name,
                     bool thenRelu);
    /// Weights in some layout, read once for all sizes.
    dnnl::memory weightsFor(onnx::TensorProto &tensor, const dnnl::memory::desc &desc,
                            dnnl::memory::format_tag asRead);
    /// The middle of a kernel of 3 x 3 as one of 1 x 1.
    dnnl::memory middleOf(onnx::TensorProto &kernel, const dnnl::memory::desc &desc);
    Tensor pooled(const onnx::NodeProto &node);
    Tensor joined(const onnx::NodeProto &node);
    Tensor enlarged(const onnx::NodeProto &node);
    Tensor summed(const onnx::NodeProto &node);
    Tensor through(const onnx::NodeProto &node, dnnl::algorithm function);
    const dnnl::memory &tensor(const std::string &name) const;
    /// In its place, or in room that nothing needs any more, if there is some that is large enough.
    Tensor newTensor(const dnnl::memory::desc &desc, const std::string &name);
    /// A step has read it: after the last one its room is free.
    void leave(const std::string &name);
    dnnl::memory inLayout(const dnnl::memory &from, dnnl::memory::format_tag layout);

    dnnl::engine m_engine{dnnl::engine::kind::cpu, 0};
    dnnl::stream m_stream{m_engine};
    std::vector<Sized> m_sized;
    std::vector<dnnl::memory> m_rooms; ///< bytes in which tensors lie, one after the other

    // While it is being built; all but the first two, for the last of m_sized.
    std::map<std::string, dnnl::memory> m_weights;
    std::multimap<size_t, size_t> m_free; ///< rooms by their bytes
    std::map<std::string, Tensor> m_tensors;
    std::map<std::string, Place> m_places;
    std::map<std::string, int> m_uses;           ///< of a tensor by steps that are still to come
    std::map<std::string, std::string> m_relued; ///< of a convolution that only a Relu reads
};

} // namespace buttonhole
