# frozen_string_literal: true

require "socket"

# What a real web process does with bodies that are longer than anything may be.
RSpec.describe "A body beyond all limits", :committed, :processes do
  after { stop_all }

  # @return [String] first line of the answer
  def first_line(address, head, *chunks)
    uri = URI(address)
    socket = TCPSocket.new(uri.host, uri.port)
    socket.write("POST /api/records HTTP/1.1\r\nhost: #{uri.host}\r\ncontent-type: application/json\r\n#{head}\r\n\r\n")
    begin
      chunks.each { |chunk| socket.write(chunk) }
    rescue Errno::EPIPE, Errno::ECONNRESET
      # It was refused while it was being sent.
    end
    socket.wait_readable(20) && socket.gets.to_s
  ensure
    socket&.close
  end

  it "is refused by the length that it says, before any of it is sent, and by what is sent when it says none" do
    address = start_web(Database.url)
    expect(first_line(address, "content-length: 20000000")).to start_with("HTTP/1.1 413")
    million = "f4240\r\n#{"x" * 1_000_000}\r\n"
    expect(first_line(address, "transfer-encoding: chunked", *Array.new(12, million), "0\r\n\r\n")).to start_with("HTTP/1.1 413")
    expect(answers?(address)).to be(true)
  end
end
