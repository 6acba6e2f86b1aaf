# frozen_string_literal: true

require "json"
require "rbconfig"
require "socket"

# Starts bin/yenvo again and again without loading it each time: a process that has loaded all of it forks the others.
# Each is a process of its own with its own database connections, in a group of its own, as if it had been spawned.
# What loading itself does is seen where specs start bin/yenvo or bin/start by hand.
class ForkServer
  MAIN = File.join(__dir__, "fork_server/main.rb")

  class << self
    # Starts bin/yenvo.
    # @param words [Array<String>] its arguments
    # @param env [Hash{String => String, nil}] added to this process's own; nil takes one away
    # @param input [IO]
    # @param out [IO]
    # @param err [IO]
    # @return [Integer] pid, also of its group
    def start(*words, env: {}, input: nothing, out: nothing, err: nothing) = one.start(words, env, [input, out, err])

    # @return [Array(String, String, Integer)] what bin/yenvo printed and complained, and its exit code
    def run(*words, env: {}, input: "")
      pipes = Array.new(3) { IO.pipe }
      pid = start(*words, env:, input: pipes[0][0], out: pipes[1][1], err: pipes[2][1])
      [pipes[0][0], pipes[1][1], pipes[2][1]].each(&:close)
      readers = pipes.drop(1).map { |pipe, _| Thread.new { pipe.read } }
      give(pipes[0][1], input)
      [*readers.map(&:value), wait(pid)]
    ensure
      pipes&.flatten&.each { |io| io.close unless io.closed? }
    end

    # Waits until a process has ended.
    # @return [Integer] its exit code; that of a process that a signal ended is 128 and the signal
    def wait(pid)
      IO.select(nil, nil, nil, 0.005) until (code = one.ended(pid))
      code
    end

    private

    def one = @lock.synchronize { @one ||= new.tap { |server| at_exit { server.stop } } }
    def nothing = @nothing ||= File.open(File::NULL, "r+")

    # Who does not read what it is given is none of ours.
    def give(pipe, input)
      pipe.binmode.write(input)
    rescue Errno::EPIPE
      nil
    ensure
      pipe.close
    end
  end
  @lock = Mutex.new

  def initialize
    require "yenvo/tuned_ruby"
    @socket, theirs = UNIXSocket.pair
    @lock = Mutex.new
    @pid = spawn(Yenvo::TunedRuby::SETTINGS, RbConfig.ruby, MAIN, theirs.fileno.to_s, theirs => theirs, :pgroup => true)
    theirs.close
  end

  # @return [Integer] pid
  def start(words, env, streams)
    wanted = {"words" => words, "env" => ENV.to_h.merge(Yenvo::TunedRuby::SETTINGS, env).compact}
    @lock.synchronize do
      ask(wanted)
      streams.each { |io| @socket.send_io(io) }
      answer
    end
  end

  # @return [Integer, nil] exit code of a process, once it has ended
  def ended(pid) = @lock.synchronize { ask("ended" => pid) && answer }

  # Ends it, and all that it started and that still runs.
  def stop
    @socket.close
    Process.wait(@pid)
  end

  private

  def ask(plain)
    @socket.puts(JSON.generate(plain))
    @socket.gets || raise("The fork server has gone; it cannot load Yenvo.")
  end

  def answer = JSON.parse(@socket.gets)
end
