#include <gmock/gmock.h>

#include "support/own_cache.hpp"

#if __has_include(<QApplication>)
#include <QApplication>
using Application = QApplication;
#else
#include <QGuiApplication>
using Application = QGuiApplication;
#endif

int main(int argc, char** argv) {
    const aspen::test::OwnCache cache;
    Application application(argc, argv);
    testing::InitGoogleMock(&argc, argv);
    return RUN_ALL_TESTS();
}
