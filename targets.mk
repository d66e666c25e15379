# The chips that the core is built and measured for. Compilers and simulators want a chip's name: it stands only here.
AVR_CHIP := atmega328p
AVR_HERTZ := 16000000
ARM_CPU := cortex-m0
