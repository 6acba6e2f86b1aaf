# frozen_string_literal: true

# What bin/test does once all is installed; see Lanes::Command.
require_relative "command"

# Ends what it has started when it is told to end itself.
%w[INT TERM].each { |signal| trap(signal) { exit(1) } }
exit Lanes::Command.new(ARGV).run
