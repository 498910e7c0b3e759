#include "nets/module/unet.h"

#include <omp.h>
#include <opencv2/dnn.hpp>

#include <algorithm>
#include <stdexcept>

namespace buttonhole
{

namespace
{

using dnnl::memory;
using Layout = memory::format_tag;

constexpr auto kFloat = memory::data_type::f32;
constexpr auto kInference = dnnl::prop_kind::forward_inference;
constexpr int kHalvings = 3;
constexpr size_t kConvolutions = 2 * (kHalvings + 1) + 3 * kHalvings + 1;

/// Kernel and bias of each convolution, the last first.
std::vector<std::vector<cv::Mat>> weightsOf(const std::string &onnx)
{
    cv::dnn::Net net = cv::dnn::readNetFromONNX(onnx);
    std::vector<std::vector<cv::Mat>> out;
    for (const std::string &name : net.getLayerNames()) {
        const auto layer = net.getLayer(net.getLayerId(name));
        if (layer->type == "Convolution" && layer->blobs.size() == 2)
            out.push_back(layer->blobs);
    }
    if (out.size() != kConvolutions)
        throw std::runtime_error("it is another net");
    std::reverse(out.begin(), out.end());
    return out;
}

/// oneDNN takes as many threads as OpenMP would, when it plans its work and again when it does it:
/// this thread alone, since squares are shared among threads already.
void workAlone()
{
    omp_set_num_threads(1);
}

float *valuesOf(const memory &of)
{
    return static_cast<float *>(of.get_data_handle());
}

int channelsOf(const memory &of)
{
    return int(of.get_desc().dims()[1]);
}

int sideOf(const memory &of)
{
    return int(of.get_desc().dims()[2]);
}

} // namespace

UNet::UNet(const std::string &onnx, int planes, int side) : m_weights(weightsOf(onnx))
{
    workAlone();
    m_input = plane(planes, side, Layout::nchw);
    memory at = plane(planes, side, Layout::nhwc);
    m_steps.push_back({dnnl::reorder(m_input, at), {{DNNL_ARG_FROM, m_input}, {DNNL_ARG_TO, at}}});
    std::vector<memory> kept;
    for (int i = 0; i < kHalvings; ++i) {
        kept.push_back(pair(at));
        at = halved(kept.back());
    }
    at = pair(at);
    for (; !kept.empty(); kept.pop_back()) {
        addEnlarged(convolved(at, Then::Nothing), kept.back());
        at = pair(kept.back());
    }
    m_output = convolved(at, Then::Sigmoid);
}

memory UNet::plane(int channels, int side, Layout layout)
{
    return {{{1, channels, side, side}, kFloat, layout}, m_engine};
}

memory UNet::convolved(const memory &from, Then then)
{
    const cv::Mat kernel = m_weights.back()[0];
    const cv::Mat bias = m_weights.back()[1];
    m_weights.pop_back();
    const memory::dims shape{kernel.size[0], kernel.size[1], kernel.size[2], kernel.size[3]};
    if (shape[1] != channelsOf(from) || int64_t(bias.total()) != shape[0])
        throw std::runtime_error("it is another net");
    memory to = plane(int(shape[0]), sideOf(from), Layout::nhwc);
    const memory added({{shape[0]}, kFloat, Layout::x}, m_engine);
    std::copy_n(bias.ptr<float>(), shape[0], valuesOf(added));
    dnnl::primitive_attr attributes;
    if (then != Then::Nothing) {
        dnnl::post_ops after;
        after.append_eltwise(1,
                             then == Then::Relu ? dnnl::algorithm::eltwise_relu
                                                : dnnl::algorithm::eltwise_logistic,
                             0, 0);
        attributes.set_post_ops(after);
    }
    const memory::dims margin{shape[2] / 2, shape[3] / 2};
    const dnnl::convolution_forward::primitive_desc how({kInference,
                                                         dnnl::algorithm::convolution_direct,
                                                         from.get_desc(),
                                                         {shape, kFloat, Layout::any},
                                                         added.get_desc(),
                                                         to.get_desc(),
                                                         {1, 1},
                                                         margin,
                                                         margin},
                                                        attributes, m_engine);
    memory asRead({shape, kFloat, Layout::oihw}, m_engine, kernel.data);
    memory weights(how.weights_desc(), m_engine);
    dnnl::reorder(asRead, weights).execute(m_stream, asRead, weights);
    m_stream.wait();
    m_steps.push_back({dnnl::convolution_forward(how),
                       {{DNNL_ARG_SRC, from},
                        {DNNL_ARG_WEIGHTS, weights},
                        {DNNL_ARG_BIAS, added},
                        {DNNL_ARG_DST, to}}});
    return to;
}

memory UNet::pair(const memory &from)
{
    return convolved(convolved(from, Then::Relu), Then::Relu);
}

memory UNet::halved(const memory &from)
{
    memory to = plane(channelsOf(from), sideOf(from) / 2, Layout::nhwc);
    const dnnl::pooling_forward::primitive_desc how({kInference,
                                                     dnnl::algorithm::pooling_max,
                                                     from.get_desc(),
                                                     to.get_desc(),
                                                     {2, 2},
                                                     {2, 2},
                                                     {0, 0},
                                                     {0, 0}},
                                                    m_engine);
    m_steps.push_back({dnnl::pooling_forward(how), {{DNNL_ARG_SRC, from}, {DNNL_ARG_DST, to}}});
    return to;
}

void UNet::addEnlarged(const memory &from, const memory &to)
{
    dnnl::post_ops after;
    after.append_sum(1);
    dnnl::primitive_attr attributes;
    attributes.set_post_ops(after);
    const dnnl::resampling_forward::primitive_desc how({kInference,
                                                        dnnl::algorithm::resampling_nearest,
                                                        {2.0F, 2.0F},
                                                        from.get_desc(),
                                                        to.get_desc()},
                                                       attributes, m_engine);
    m_steps.push_back({dnnl::resampling_forward(how), {{DNNL_ARG_SRC, from}, {DNNL_ARG_DST, to}}});
}

std::vector<float> UNet::coverage(const std::vector<float> &input)
{
    workAlone();
    if (input.size() * sizeof(float) != m_input.get_desc().get_size())
        throw std::runtime_error("an input of another size");
    std::copy(input.begin(), input.end(), valuesOf(m_input));
    for (const Step &step : m_steps)
        step.primitive.execute(m_stream, step.arguments);
    m_stream.wait();
    const float *out = valuesOf(m_output);
    return {out, out + sideOf(m_output) * sideOf(m_output)};
}

} // namespace buttonhole
