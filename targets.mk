# SPDX-License-Identifier: MIT
# The chips that the core is built and measured for. Compilers and simulators want a chip's name: it stands only here.
AVR_CHIP := atmega328p
AVR_HERTZ := 16000000
# A general-purpose register of that chip that nothing else uses: perf/ marks the passing of time with it.
AVR_MARK_ADDRESS := 0x3E
ARM_CPU := cortex-m0
RISCV_ARCH := rv32im
RISCV_ABI := ilp32
# An 8-bit chip of another make, whose compiler knows little more than C99, and its simulator's name for one.
SMALL_TARGET := stm8
SMALL_CHIP := S208
# The machines that the emulator knows with such processors, and what it counts their time by.
ARM_MACHINE := microbit
ARM_HERTZ := 16000000
RISCV_MACHINE := virt
RISCV_MTIME := 0x0200bff8
RISCV_MTIME_HERTZ := 10000000
