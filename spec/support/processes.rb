# frozen_string_literal: true

require "net/http"
require "open3"
require "tmpdir"

# Starts parts of Yenvo as processes of their own, and stops them.
module Processes
  SECRET = "s" * 64

  # @return [Integer] pid of a worker process
  def start_worker(url, **env) = start("worker", environment(url, **env), log: "worker")

  # @return [Integer] pid of the web process that was started last
  attr_reader :web_pid

  # @return [String] address of a web process, once it answers
  def start_web(url, port: free_port, **env)
    SetUps.time("a web process") do
      @web_pid = start("web", environment(url, PORT: port.to_s, YENVO_DEMO: "1", **env), log: "web")
      "http://127.0.0.1:#{port}".tap do |address|
        wait_until("the web process answers", seconds: 90) { answers?(address) }
      end
    end
  end

  # @return [String] address of the stand-ins, once they answer
  def start_stand_ins(port, mail_port, **env)
    words = ["standins", "--port", port.to_s, "--mail-port", mail_port.to_s]
    start(*words, environment("", **env), log: "standins")
    "http://127.0.0.1:#{port}".tap do |address|
      wait_until("the stand-ins answer", seconds: 60) { answers?(address, "/") }
    end
  end

  def kill(pid, signal = "KILL")
    started.delete(pid)
    Process.kill(signal, -pid)
    ForkServer.wait(pid)
  rescue Errno::ESRCH
    nil
  end

  def stop_all = started.dup.each { |pid| kill(pid, "TERM") }

  # Looks again and again until the block is true.
  def wait_until(what, seconds: 10)
    ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
    until (found = yield)
      raise "Waited #{seconds} seconds in vain until #{what}" if Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends

      IO.select(nil, nil, nil, 0.02)
    end
    found
  end

  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  def answers?(address, path = "/readyz")
    Net::HTTP.get_response(URI(address + path)).is_a?(Net::HTTPOK)
  rescue SystemCallError, EOFError, Net::ReadTimeout
    false
  end

  private

  def started = @started ||= []

  def start(*words, env, log:)
    File.open(File.expand_path("../../tmp/spec-#{log}.log", __dir__), "a") do |err|
      ForkServer.start(*words, env:, err:).tap { |pid| started << pid }
    end
  end

  def environment(url, **env)
    {
      "DATABASE_URL" => url, "YENVO_SECRET" => SECRET, "YENVO_LOG" => "warn", "YENVO_POLL_SECONDS" => "0.05",
      "YENVO_FILES" => Database.files, **env.transform_keys(&:to_s)
    }
  end
end
