#pragma once

#include <oneapi/dnnl/dnnl.hpp>
#include <opencv2/core.hpp>

#include <string>
#include <unordered_map>
#include <vector>

namespace buttonhole
{

/// The U-Net of models/training/train_edge.py, worked out by oneDNN on the thread that asks: a
/// fifth of the time that OpenCV's dnn takes for it. One thread at a time.
class UNet
{
public:
    /// @param onnx with three halvings
    /// @param planes of the input @param side px of its square, a multiple of 8
    /// Throws where OpenCV cannot read the file, or where it holds another net.
    UNet(const std::string &onnx, int planes, int side);

    /// Values 0..1, side x side, of `planes` planes, row by row.
    std::vector<float> coverage(const std::vector<float> &input);

private:
    struct Step {
        dnnl::primitive primitive;
        std::unordered_map<int, dnnl::memory> arguments;
    };
    enum class Then { Nothing, Relu, Sigmoid };
    dnnl::memory plane(int channels, int side, dnnl::memory::format_tag layout);
    dnnl::memory convolved(const dnnl::memory &from, Then then);
    dnnl::memory pair(const dnnl::memory &from);
    dnnl::memory halved(const dnnl::memory &from);
    /// Twice as large, and added to what was kept of that size.
    void addEnlarged(const dnnl::memory &from, const dnnl::memory &to);

    dnnl::engine m_engine{dnnl::engine::kind::cpu, 0};
    dnnl::stream m_stream{m_engine};
    std::vector<std::vector<cv::Mat>> m_weights; ///< of convolutions not built yet: kernel, bias
    std::vector<Step> m_steps;
    dnnl::memory m_input;
    dnnl::memory m_output;
};

} // namespace buttonhole
