# frozen_string_literal: true

# The process behind ForkServer: loads all of Yenvo, then forks bin/yenvo for whoever asks at the socket.
ENV["BUNDLE_GEMFILE"] ||= File.expand_path("../../../Gemfile", __dir__)
require "bundler/setup"
require "json"
require "socket"
$LOAD_PATH.unshift File.expand_path("../../../lib", __dir__)
require "yenvo/cli"
require "yenvo/web"
Yenvo::LOADER.eager_load
GC.start

PROGRAM = File.expand_path("../../../bin/yenvo", __dir__)
socket = UNIXSocket.for_fd(Integer(ARGV.fetch(0)))
waiting = {}

begin_process = lambda do |plain, streams|
  fork do
    socket.close
    Process.setpgrp
    [$stdin, $stdout, $stderr].zip(streams) { |own, given| own.reopen(given) }
    streams.each(&:close)
    ENV.replace(plain["env"])
    ARGV.replace(plain["words"])
    $PROGRAM_NAME = PROGRAM
    load PROGRAM
  end
end

while (line = socket.gets)
  plain = JSON.parse(line)
  socket.puts("go on")
  if plain["ended"]
    status = waiting.fetch(plain["ended"]).then { |thread| thread.value unless thread.alive? }
    socket.puts(JSON.generate(status && (status.exitstatus || (128 + status.termsig))))
  else
    streams = Array.new(3) { socket.recv_io }
    pid = begin_process.call(plain, streams)
    streams.each(&:close)
    waiting[pid] = Process.detach(pid)
    socket.puts(pid.to_s)
  end
end
waiting.each do |pid, thread|
  Process.kill("KILL", -pid) if thread.alive?
rescue Errno::ESRCH
  next
end
