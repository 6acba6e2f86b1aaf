# frozen_string_literal: true

require "socket"

# What a real web process does with bodies that are longer than anything may be.
RSpec.describe "A body beyond all limits", :committed, :processes do
  after { stop_all }

  # @return [Array(String, String)] first line and body of the answer
  def ask(address, path, head, *chunks)
    uri = URI(address)
    socket = TCPSocket.new(uri.host, uri.port)
    socket.write("POST #{path} HTTP/1.1\r\nhost: #{uri.host}\r\ncontent-type: application/json\r\n#{head}\r\n\r\n")
    begin
      chunks.each { |chunk| socket.write(chunk) }
    rescue Errno::EPIPE, Errno::ECONNRESET
      # It was refused while it was being sent.
    end
    return [] unless socket.wait_readable(20)

    head, body = socket.readpartial(10_000).split("\r\n\r\n", 2)
    [head.lines.first.strip, body]
  ensure
    socket&.close
  end

  # @return [Array<String>] files that the web process has open and nobody else can see any more, such as spooled bodies
  def spooled = Dir["/proc/#{web_pid}/fd/*"].filter_map { |link| link_of(link) }.grep(/puma.*deleted/)

  def link_of(path)
    File.readlink(path)
  rescue Errno::ENOENT
    # It was closed meanwhile.
  end

  def refused_with(bytes) =
    ["HTTP/1.1 413 Content Too Large", JSON.generate(error: "The body must have at most #{bytes}. Send less.")]

  def chunk_of(bytes) = "#{bytes.to_s(16)}\r\n#{"x" * bytes}\r\n"

  let(:address) { start_web(Database.url) }

  let(:limits) do
    {
      "/in/nowhere" => [1_000_000, "1 MB"], "/api/records" => [4_000_000, "4 MB"],
      "/api/tasks/1/files" => [10_001_000, "10 MB"]
    }
  end

  it "is refused by the length that it says, before any of it is sent, at each address by its own limit" do
    limits.each do |path, (most, words)|
      expect(ask(address, path, "content-length: #{most + 1}")).to eq(refused_with(words))
      expect(ask(address, "http://yenvo.example#{path}", "content-length: #{most + 1}")).to eq(refused_with(words))
      expect(spooled).to eq([])
    end
  end

  it "is refused as soon as it gets too long, when it says no length" do
    limits.each do |path, (most, words)|
      chunks = Array.new(13) { chunk_of((most / 12.0).ceil) }
      expect(ask(address, path, "transfer-encoding: chunked", *chunks, "0\r\n\r\n")).to eq(refused_with(words))
      expect(answers?(address)).to be(true)
    end
  end
end
