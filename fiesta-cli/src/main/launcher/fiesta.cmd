@echo off
rem Starts the fiesta command: Java 17 or newer, from JAVA_HOME, from the folder runtime beside bin, or from the path.
setlocal
set "HOME_DIR=%~dp0.."
set "JAVA=java"
if not "%JAVA_HOME%"=="" set "JAVA=%JAVA_HOME%\bin\java"
if exist "%HOME_DIR%\runtime\bin\java.exe" set "JAVA=%HOME_DIR%\runtime\bin\java"
"%JAVA%" -XX:+UseSerialGC -Djava.awt.headless=true %FIESTA_JAVA_OPTIONS% -cp "%HOME_DIR%\lib\*;%HOME_DIR%\lib\drivers\*" dev.fiesta.cli.Main %*
exit /b %ERRORLEVEL%
