#include <gtest/gtest.h>

#include "support/own_cache.hpp"
#include "ui/application.hpp"

int main(int argc, char** argv) {
    const aspen::test::OwnCache cache;
    if (!qEnvironmentVariableIsSet("ASPEN_MICROPHONE")) qputenv("ASPEN_MICROPHONE", "simulated");
    aspen::ui::Application application(argc, argv);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
